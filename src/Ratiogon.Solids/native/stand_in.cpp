// Shapes to measure from that are no bodies: a point, a path, a flat square.
#include "path.h"
#include "profile.h"

#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRep_Builder.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Vertex.hxx>
#include <gp_Pln.hxx>

RG_API int32_t rg_dot(const double* at, rg_shape** shape) {
    return rg_guard([&]() -> int32_t {
        *shape = new rg_shape(BRepBuilderAPI_MakeVertex(gp_Pnt(at[0], at[1], at[2])).Vertex());
        return 0;
    });
}

RG_API int32_t rg_wire(const int32_t* kinds, const double* numbers, int32_t count, rg_shape** shape) {
    return rg_guard([&]() -> int32_t {
        *shape = new rg_shape(make_path(kinds, numbers, count));
        return 0;
    });
}

RG_API int32_t rg_sheet(const double* plane_numbers, double reach, rg_shape** shape) {
    return rg_guard([&]() -> int32_t {
        *shape = new rg_shape(BRepBuilderAPI_MakeFace(gp_Pln(Plane(plane_numbers).axes()), -reach, reach, -reach, reach).Face());
        return 0;
    });
}

RG_API int32_t rg_facets(const double* numbers, int32_t count, rg_shape** shape) {
    return rg_guard([&]() -> int32_t {
        BRep_Builder builder;
        TopoDS_Compound all;
        builder.MakeCompound(all);
        for (int32_t i = 0; i < count; i++) {
            const double* n = numbers + 9 * i;
            BRepBuilderAPI_MakePolygon outline(gp_Pnt(n[0], n[1], n[2]), gp_Pnt(n[3], n[4], n[5]), gp_Pnt(n[6], n[7], n[8]), true);
            if (!outline.IsDone()) {
                continue;
            }
            BRepBuilderAPI_MakeFace face(outline.Wire(), true);
            builder.Add(all, face.IsDone() ? TopoDS_Shape(face.Face()) : TopoDS_Shape(outline.Wire()));
        }
        *shape = new rg_shape(all);
        return 0;
    });
}
