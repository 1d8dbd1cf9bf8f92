#include "sound.h"
#include "trace.h"

#include <BRepAlgoAPI_Common.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRep_Builder.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <algorithm>
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

constexpr double adding_up = 1e-5;

// The edges of the faces that may close in both directions.
TopTools_MapOfShape delicate_edges(const TopoDS_Shape& shape) {
    TopTools_MapOfShape edges;
    for (TopExp_Explorer face(shape, TopAbs_FACE); face.More(); face.Next()) {
        for (TopExp_Explorer edge(face.Current(), TopAbs_EDGE); delicate(TopoDS::Face(face.Current())) && edge.More(); edge.Next()) {
            edges.Add(edge.Current());
        }
    }
    return edges;
}

// The result with pieces of one surface made one face. Those of a surface that may close in both directions stay: at
// uniting them the library throws, or makes a face of the wrong side of its outline, or spoils the bodies that went in.
TopoDS_Shape simplified(BRepAlgoAPI_BooleanOperation& operation) {
    const TopTools_MapOfShape kept = delicate_edges(operation.Shape());
    if (kept.IsEmpty()) {
        operation.SimplifyResult(true, true);
        return operation.Shape();
    }
    ShapeUpgrade_UnifySameDomain unify(operation.Shape(), true, true, false);
    unify.KeepShapes(kept);
    unify.Build();
    operation.History()->Merge(unify.History());
    return unify.Shape();
}

bool solid(const TopoDS_Shape& shape) { return TopExp_Explorer(shape, TopAbs_SOLID).More(); }

// Whether a result holds no more and no less than the bodies allow: a boolean may go astray without a word where faces
// nearly touch.
bool adds_up(int32_t kind, const TopoDS_Shape& body, const TopTools_ListOfShape& tools, const TopoDS_Shape& result) {
    const double had = volume_of(body), has = volume_of(result);
    double all = 0, most = 0;
    for (const TopoDS_Shape& tool : tools) {
        if (!solid(tool)) {
            return true;
        }
        const double volume = volume_of(tool);
        all += volume;
        most = std::max(most, volume);
    }
    const double slack = adding_up * std::max(had, all);
    switch (kind) {
        case 0: return has >= std::max(had, most) - slack && has <= had + all + slack;
        case 2: return has > 0 && has <= std::min(had, all) + slack;
        default: return has > 0 && has <= had + slack && has >= had - all - slack;
    }
}

}  // namespace

namespace {

int32_t combine(int32_t kind, bool simplify, const rg_shape* a, const rg_shape* const* tools, int32_t count, rg_result** result) {
    const auto operation = operation_of(kind);
    TopTools_ListOfShape others;
    for (int32_t i = 0; i < count; i++) {
        others.Append(tools[i]->shape);
    }
    build_between(*operation, a->shape, others);
    if (operation->HasErrors()) {
        std::ostringstream why;
        operation->DumpErrors(why);
        return rg_fail("the bodies could not be combined: " + why.str());
    }
    const TopoDS_Shape combined = simplify ? simplified(*operation) : operation->Shape();
    if (!solid(combined)) {
        return rg_fail("nothing is left of the body");
    }
    if (!adds_up(kind, a->shape, others, combined)) {
        return rg_fail("what came out does not add up; where faces nearly touch, change a size a little");
    }
    Origins origins(combined);
    origins.carry(*operation, a, 0);
    for (int32_t i = 0; i < count; i++) {
        origins.carry(*operation, tools[i], i + 1);
    }
    return origins.release(result);
}

}  // namespace

RG_API int32_t rg_boolean(int32_t kind, const rg_shape* a, const rg_shape* const* tools, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        // Where making pieces of one surface one face spoils the body, they stay pieces.
        return kind != 3 && combine(kind, true, a, tools, count, result) == 0 ? 0 : combine(kind, false, a, tools, count, result);
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
