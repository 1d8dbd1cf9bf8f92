// Bodies moved, mirrored, and divided by planes and faces.
#include "profile.h"
#include "trace.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Splitter.hxx>
#include <BRepBndLib.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <Geom_Surface.hxx>
#include <Precision.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <gp_Pln.hxx>
#include <gp_Trsf.hxx>
#include <algorithm>

RG_API int32_t rg_transform(const rg_shape* s, const double* m, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        gp_Trsf move;
        move.SetValues(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11]);
        // Rigid motions share the geometry; mirrored shapes get their own.
        BRepBuilderAPI_Transform moved(s->shape, move, move.IsNegative());
        Origins origins(moved.Shape());
        for (int i = 1; i <= s->faces.Extent(); i++) {
            origins.note(moved.ModifiedShape(s->faces(i)), 0, 0, i - 1);
        }
        return origins.release_unchecked(result);
    });
}

RG_API int32_t rg_half(const rg_shape* s, const double* plane_numbers, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const Plane plane(plane_numbers);
        Bnd_Box box;
        BRepBndLib::Add(s->shape, box);
        box.Add(plane.origin);
        const double reach = 2 * std::sqrt(box.SquareExtent()) + 10;
        const BRepBuilderAPI_MakeFace square(gp_Pln(plane.axes()), -reach, reach, -reach, reach);
        const rg_shape beyond(BRepPrimAPI_MakePrism(square.Face(), gp_Vec(plane.z) * reach).Shape());
        BRepAlgoAPI_Cut cut;
        TopTools_ListOfShape tools;
        tools.Append(beyond.shape);
        build_between(cut, s->shape, tools);
        if (!cut.IsDone()) {
            return rg_fail("the body could not be divided");
        }
        Origins origins(cut.Shape());
        origins.carry(cut, s, 0);
        for (int i = 1; i <= beyond.faces.Extent(); i++) {
            origins.note(cut.Modified(beyond.faces(i)), 1, 6, 0);
            origins.note(beyond.faces(i), 1, 6, 0);
        }
        return origins.release(result);
    });
}

RG_API int32_t rg_split_by_face(const rg_shape* tool, const rg_shape* body, int32_t index, double reach, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const TopoDS_Face face = TopoDS::Face(body->faces(index + 1));
        const Handle(Geom_Surface) surface = BRep_Tool::Surface(face);
        double u0, u1, v0, v1;
        surface->Bounds(u0, u1, v0, v1);
        for (double* bound : {&u0, &v0}) {
            *bound = std::max(*bound, -reach);
        }
        for (double* bound : {&u1, &v1}) {
            *bound = std::min(*bound, reach);
        }
        const rg_shape limit(BRepBuilderAPI_MakeFace(surface, u0, u1, v0, v1, Precision::Confusion()).Face());
        BRepAlgoAPI_Splitter splitter;
        TopTools_ListOfShape tools;
        tools.Append(limit.shape);
        build_between(splitter, tool->shape, tools);
        if (splitter.HasErrors() || !TopExp_Explorer(splitter.Shape(), TopAbs_SOLID).More()) {
            return rg_fail("the end could not follow the face");
        }
        Origins origins(splitter.Shape());
        origins.carry(splitter, tool, 0);
        origins.note(splitter.Modified(limit.faces(1)), 1, 6, 0);
        return origins.release(result);
    });
}
