#include "path.h"
#include "profile.h"
#include "trace.h"

#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepBuilderAPI_TransitionMode.hxx>
#include <BRepLib.hxx>
#include <BRepOffsetAPI_MakePipe.hxx>
#include <BRepBndLib.hxx>
#include <BRepOffsetAPI_MakePipeShell.hxx>
#include <Bnd_Box.hxx>
#include <Precision.hxx>
#include <BRepOffsetAPI_ThruSections.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Solid.hxx>
#include <gp_Ax2.hxx>
#include <algorithm>
#include <cmath>

namespace {

// The loop's own edges by their numbers in the profile.
template <typename Each>
void each_edge(const rg_profile* profile, const TopoDS_Wire& loop, Each each) {
    for (size_t i = 0; i < profile->edges.size(); i++) {
        for (TopExp_Explorer it(loop, TopAbs_EDGE); it.More(); it.Next()) {
            if (it.Current().IsSame(profile->edges[i])) {
                each(it.Current(), static_cast<int32_t>(i));
                break;
            }
        }
    }
}

// The faces at the beginning and at the end.
void note_caps(Origins& origins, const TopoDS_Shape& first, const TopoDS_Shape& last) {
    for (TopExp_Explorer it(first, TopAbs_FACE); it.More(); it.Next()) {
        origins.note(it.Current(), 0, 2, 0);
    }
    for (TopExp_Explorer it(last, TopAbs_FACE); it.More(); it.Next()) {
        origins.note(it.Current(), 0, 3, 0);
    }
}

// How far a swept face may lie off, as a share of the profile's size, and at most, in millimetres.
constexpr double closeness = 2e-6, coarsest = 1e-4;

}  // namespace

RG_API int32_t rg_pipe(const rg_profile* profile, const int32_t* kinds, const double* numbers, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRepOffsetAPI_MakePipe pipe(make_path(kinds, numbers, count), profile->compound, GeomFill_IsCorrectedFrenet);
        if (!pipe.IsDone()) {
            return rg_fail("the profile could not be swept along the path");
        }
        Origins origins(pipe.Shape());
        for (size_t i = 0; i < profile->edges.size(); i++) {
            origins.note(pipe.Generated(profile->edges[i]), 0, 1, static_cast<int32_t>(i));
        }
        note_caps(origins, pipe.FirstShape(), pipe.LastShape());
        return origins.release(result);
    });
}

RG_API int32_t rg_sweep(const rg_profile* profile, int32_t region, int32_t loop, const int32_t* kinds, const double* numbers, int32_t count,
                        const int32_t* guide_kinds, const double* guide_numbers, int32_t guide_count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRepOffsetAPI_MakePipeShell pipe(make_path(kinds, numbers, count));
        if (guide_count > 0) {
            pipe.SetMode(make_path(guide_kinds, guide_numbers, guide_count), false, BRepFill_NoContact);
        } else {
            pipe.SetMode(gp_Ax2(gp_Pnt(0, 0, 0), profile->normal));
        }
        pipe.SetTransitionMode(BRepBuilderAPI_RightCorner);
        const TopoDS_Wire& outline = profile->loops[region][loop];
        // The library's own tolerance is a ten-thousandth of a millimetre whatever the size: too coarse for a small profile.
        Bnd_Box box;
        BRepBndLib::AddClose(outline, box);
        const double close = std::clamp(closeness * std::sqrt(box.SquareExtent()), Precision::Confusion(), coarsest);
        pipe.SetTolerance(close, close);
        pipe.Add(outline, false, false);
        pipe.Build();
        if (!pipe.IsDone() || !pipe.MakeSolid()) {
            return rg_fail("the profile could not be swept along the path");
        }
        TopoDS_Solid swept = TopoDS::Solid(pipe.Shape());
        BRepLib::OrientClosedSolid(swept);
        Origins origins(swept);
        each_edge(profile, outline, [&](const TopoDS_Shape& edge, int32_t i) { origins.note(pipe.Generated(edge), 0, 1, i); });
        note_caps(origins, pipe.FirstShape(), pipe.LastShape());
        return origins.release(result);
    });
}

RG_API int32_t rg_loft(const rg_profile* const* profiles, int32_t count, const double* apex_first, const double* apex_last, int32_t ruled,
                       rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRepOffsetAPI_ThruSections loft(true, ruled != 0, 1e-7);
        if (apex_first) {
            loft.AddVertex(BRepBuilderAPI_MakeVertex(gp_Pnt(apex_first[0], apex_first[1], apex_first[2])));
        }
        for (int32_t i = 0; i < count; i++) {
            loft.AddWire(profiles[i]->loops[0][0]);
        }
        if (apex_last) {
            loft.AddVertex(BRepBuilderAPI_MakeVertex(gp_Pnt(apex_last[0], apex_last[1], apex_last[2])));
        }
        loft.CheckCompatibility(std::any_of(profiles, profiles + count, [&](const rg_profile* p) { return p->edges.size() != profiles[0]->edges.size(); }));
        loft.Build();
        if (!loft.IsDone()) {
            return rg_fail("the profiles could not be lofted");
        }
        Origins origins(loft.Shape());
        for (int32_t i = 0; i < count; i++) {
            each_edge(profiles[i], profiles[i]->loops[0][0], [&](const TopoDS_Shape& edge, int32_t k) { origins.note(loft.GeneratedFace(edge), i, 1, k); });
        }
        note_caps(origins, loft.FirstShape(), loft.LastShape());
        return origins.release(result);
    });
}
