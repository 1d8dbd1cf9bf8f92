// Shapes to measure from that are no bodies: a point, a path, a flat square.
#include "path.h"
#include "profile.h"

#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
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
