#include "faces.h"
#include "trace.h"

#include <BRepAlgoAPI_Common.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRep_Builder.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <cmath>
#include <memory>
#include <sstream>

namespace {

std::unique_ptr<BRepAlgoAPI_BooleanOperation> operation_of(int32_t kind) {
    if (kind == 0) {
        return std::make_unique<BRepAlgoAPI_Fuse>();
    }
    if (kind == 1 || kind == 3) {
        return std::make_unique<BRepAlgoAPI_Cut>();
    }
    return std::make_unique<BRepAlgoAPI_Common>();
}

constexpr double integration_tolerance = 1e-8, same_volume = 1e-7;

double volume_of(const TopoDS_Shape& shape) {
    double volume = 0;
    for (TopExp_Explorer it(shape, TopAbs_FACE); it.More(); it.Next()) {
        volume += integrals_of(TopoDS::Face(it.Current()), integration_tolerance).volume;
    }
    return volume;
}

// Whether there is a surface that may close in both directions.
bool delicate(const TopoDS_Shape& shape) {
    for (TopExp_Explorer it(shape, TopAbs_FACE); it.More(); it.Next()) {
        if (BRepAdaptor_Surface(TopoDS::Face(it.Current()), false).GetType() > GeomAbs_Cone) {
            return true;
        }
    }
    return false;
}

// Whether pieces of one surface may be made one face. On surfaces that close in both directions the library sometimes
// throws at that, or makes a face of the wrong side of its outline; then the pieces stay.
bool may_unite_faces(const TopoDS_Shape& shape) {
    if (!delicate(shape)) {
        return true;
    }
    try {
        const double before = volume_of(shape);
        ShapeUpgrade_UnifySameDomain trial(shape, true, true, false);
        trial.Build();
        return std::abs(volume_of(trial.Shape()) - before) <= same_volume * std::abs(before);
    } catch (const Standard_Failure&) {
        return false;
    }
}

}  // namespace

RG_API int32_t rg_boolean(int32_t kind, const rg_shape* a, const rg_shape* const* tools, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const auto operation = operation_of(kind);
        TopTools_ListOfShape arguments, others;
        arguments.Append(a->shape);
        for (int32_t i = 0; i < count; i++) {
            others.Append(tools[i]->shape);
        }
        operation->SetArguments(arguments);
        operation->SetTools(others);
        operation->Build();
        if (operation->HasErrors()) {
            std::ostringstream why;
            operation->DumpErrors(why);
            return rg_fail("the bodies could not be combined: " + why.str());
        }
        if (kind != 3) {
            operation->SimplifyResult(true, may_unite_faces(operation->Shape()));
        }
        if (!TopExp_Explorer(operation->Shape(), TopAbs_SOLID).More()) {
            return rg_fail("nothing is left of the body");
        }
        Origins origins(operation->Shape());
        origins.carry(*operation, a, 0);
        for (int32_t i = 0; i < count; i++) {
            origins.carry(*operation, tools[i], i + 1);
        }
        return origins.release(result);
    });
}

RG_API int32_t rg_solids_with(const rg_shape* s, const int32_t* faces, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRep_Builder builder;
        TopoDS_Compound kept;
        builder.MakeCompound(kept);
        int found = 0;
        for (TopExp_Explorer it(s->shape, TopAbs_SOLID); it.More(); it.Next()) {
            TopTools_IndexedMapOfShape own;
            TopExp::MapShapes(it.Current(), TopAbs_FACE, own);
            for (int32_t i = 0; i < count; i++) {
                if (own.Contains(s->faces(faces[i] + 1))) {
                    builder.Add(kept, it.Current());
                    found++;
                    break;
                }
            }
        }
        if (found == 0) {
            return rg_fail("no solid has these faces");
        }
        Origins origins(kept);
        for (int i = 1; i <= s->faces.Extent(); i++) {
            origins.note(s->faces(i), 0, 0, i - 1);
        }
        return origins.release(result);
    });
}
