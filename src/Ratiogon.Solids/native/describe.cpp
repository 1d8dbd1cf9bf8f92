#include "faces.h"
#include "shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepGProp.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <GProp_GProps.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopTools_ListIteratorOfListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Vertex.hxx>
#include <gp_Circ.hxx>
#include <gp_Pln.hxx>

namespace {

double* put(double* to, const gp_XYZ& v) {
    to[0] = v.X();
    to[1] = v.Y();
    to[2] = v.Z();
    return to + 3;
}

int32_t surface_kind(GeomAbs_SurfaceType type) {
    switch (type) {
        case GeomAbs_Plane: return 0;
        case GeomAbs_Cylinder: return 1;
        case GeomAbs_Cone: return 2;
        case GeomAbs_Sphere: return 3;
        case GeomAbs_Torus: return 4;
        default: return 5;
    }
}

void describe_face(const rg_shape* s, int number, int32_t* kind, double* numbers) {
    const TopoDS_Face face = TopoDS::Face(s->faces(number + 1));
    const BRepAdaptor_Surface surface(face, false);
    *kind = surface_kind(surface.GetType());
    std::fill(numbers, numbers + 13, 0.0);
    if (surface.GetType() == GeomAbs_Plane) {
        const gp_Pln plane = surface.Plane();
        gp_Dir normal = plane.Position().XDirection().Crossed(plane.Position().YDirection());
        if (face.Orientation() == TopAbs_REVERSED) {
            normal.Reverse();
        }
        put(numbers, plane.Location().XYZ());
        put(numbers + 3, plane.Position().XDirection().XYZ());
        put(numbers + 6, normal.XYZ());
    }
    const face_facts::Area area = area_of(*s, number);
    numbers[9] = area.area;
    put(numbers + 10, area.centre.XYZ());
}

void describe_edge(const rg_shape* s, const TopoDS_Edge& edge, const TopTools_ListOfShape& faces, int32_t* ints, double* numbers) {
    std::fill(numbers, numbers + 8, 0.0);
    ints[0] = 3;
    ints[1] = ints[2] = -1;
    ints[5] = 0;
    int found = 0;
    for (TopTools_ListIteratorOfListOfShape it(faces); it.More() && found < 2; it.Next()) {
        const int32_t face = s->faces.FindIndex(it.Value()) - 1;
        if (found == 0 || face != ints[1]) {
            ints[1 + found++] = face;
        }
        if (BRep_Tool::IsClosed(edge, TopoDS::Face(it.Value()))) {
            ints[5] = 1;
        }
    }
    ints[3] = s->vertices.FindIndex(TopExp::FirstVertex(edge)) - 1;
    ints[4] = s->vertices.FindIndex(TopExp::LastVertex(edge)) - 1;
    if (BRep_Tool::Degenerated(edge)) {
        ints[5] = 1;
        return;
    }
    const BRepAdaptor_Curve curve(edge);
    ints[0] = curve.GetType() == GeomAbs_Line ? 0 : curve.GetType() == GeomAbs_Circle ? 1 : curve.GetType() == GeomAbs_Ellipse ? 2 : 3;
    numbers[0] = GCPnts_AbscissaPoint::Length(curve);
    put(numbers + 1, curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2).XYZ());
    if (curve.GetType() == GeomAbs_Circle) {
        numbers[4] = curve.Circle().Radius();
        put(numbers + 5, curve.Circle().Location().XYZ());
    }
}

}  // namespace

RG_API void rg_counts(const rg_shape* s, int32_t* four) {
    four[0] = s->faces.Extent();
    four[1] = s->edges.Extent();
    four[2] = s->vertices.Extent();
    four[3] = 0;
    for (TopExp_Explorer it(s->shape, TopAbs_SOLID); it.More(); it.Next()) {
        four[3]++;
    }
}

RG_API int32_t rg_describe(const rg_shape* s, int32_t* face_ints, double* face_numbers, int32_t* edge_ints, double* edge_numbers, double* vertex_numbers) {
    return rg_guard([&]() -> int32_t {
        for (int i = 1; i <= s->faces.Extent(); i++) {
            describe_face(s, i - 1, face_ints + (i - 1), face_numbers + 13 * (i - 1));
        }
        TopTools_IndexedDataMapOfShapeListOfShape around;
        TopExp::MapShapesAndAncestors(s->shape, TopAbs_EDGE, TopAbs_FACE, around);
        for (int i = 1; i <= s->edges.Extent(); i++) {
            describe_edge(s, TopoDS::Edge(s->edges(i)), around.FindFromKey(s->edges(i)), edge_ints + 6 * (i - 1), edge_numbers + 8 * (i - 1));
        }
        for (int i = 1; i <= s->vertices.Extent(); i++) {
            put(vertex_numbers + 3 * (i - 1), BRep_Tool::Pnt(TopoDS::Vertex(s->vertices(i))).XYZ());
        }
        return 0;
    });
}
