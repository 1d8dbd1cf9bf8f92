#include "faces.h"
#include "shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <TopoDS.hxx>
#include <BRepBndLib.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRepGProp.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <GProp_GProps.hxx>

namespace {

const TopoDS_Shape* part_of(const rg_shape* s, int32_t kind, int32_t index) {
    const TopTools_IndexedMapOfShape* map = kind == 1 ? &s->faces : kind == 2 ? &s->edges : &s->vertices;
    if (kind == 0) {
        return &s->shape;
    }
    return index >= 0 && index < map->Extent() ? &(*map)(index + 1) : nullptr;
}

// Whether a face is none of plane, cylinder, cone, sphere and torus.
bool has_free_form(const rg_shape* s) {
    for (int i = 1; i <= s->faces.Extent(); i++) {
        if (BRepAdaptor_Surface(TopoDS::Face(s->faces(i)), false).GetType() > GeomAbs_Torus) {
            return true;
        }
    }
    return false;
}

// Whether a box holds another but for what rounding and tolerances make of it.
bool holds(const Bnd_Box& box, const Bnd_Box& other, double slack) {
    double a[6], b[6];
    box.Get(a[0], a[1], a[2], a[3], a[4], a[5]);
    other.Get(b[0], b[1], b[2], b[3], b[4], b[5]);
    for (int i = 0; i < 3; i++) {
        if (b[i] < a[i] - slack || b[i + 3] > a[i + 3] + slack) {
            return false;
        }
    }
    return true;
}

// The exact box. What is flat, or made of straight lines that end on the outline, lies within the box of its edges; of the
// other faces only those are looked into whose loose box sticks out. An exact box of a torus takes milliseconds.
Bnd_Box exact_box(const rg_shape* s) {
    Bnd_Box box;
    for (int i = 1; i <= s->vertices.Extent(); i++) {
        box.Add(BRep_Tool::Pnt(TopoDS::Vertex(s->vertices(i))));
    }
    for (int i = 1; i <= s->edges.Extent(); i++) {
        const TopoDS_Edge edge = TopoDS::Edge(s->edges(i));
        if (BRep_Tool::Degenerated(edge) || BRepAdaptor_Curve(edge).GetType() == GeomAbs_Line) {
            continue;
        }
        Bnd_Box loose;
        BRepBndLib::Add(edge, loose, false);
        if (box.IsVoid() || !holds(box, loose, 0)) {
            BRepBndLib::AddOptimal(edge, box, false, false);
        }
    }
    for (int i = 1; i <= s->faces.Extent(); i++) {
        const TopoDS_Face face = TopoDS::Face(s->faces(i));
        if (BRepAdaptor_Surface(face, false).GetType() <= GeomAbs_Cone) {
            continue;
        }
        Bnd_Box loose;
        BRepBndLib::Add(face, loose, false);
        if (box.IsVoid() || !holds(box, loose, 0)) {
            BRepBndLib::AddOptimal(face, box, false, false);
        }
    }
    if (s->vertices.Extent() == 0) {
        BRepBndLib::AddOptimal(s->shape, box, false, false);
    }
    return box;
}

}  // namespace

RG_API int32_t rg_mass(const rg_shape* s, double* five) {
    return rg_guard([&]() -> int32_t {
        double volume = 0, area = 0;
        gp_XYZ moment(0, 0, 0);
        for (int i = 1; i <= s->faces.Extent(); i++) {
            const FaceIntegrals part = integrals_of(*s, i - 1);
            volume += part.volume;
            moment += part.moment;
            area += part.area;
        }
        const gp_XYZ centre = moment / volume;
        const double all[5] = {volume, area, centre.X(), centre.Y(), centre.Z()};
        std::copy(all, all + 5, five);
        return 0;
    });
}

RG_API int32_t rg_inertia(const rg_shape* s, double* six) {
    return rg_guard([&]() -> int32_t {
        GProp_GProps volume;
        if (has_free_form(s)) {
            BRepGProp::VolumeProperties(s->shape, volume, integration_tolerance);
        } else {
            BRepGProp::VolumeProperties(s->shape, volume, false, false, false);
        }
        const gp_Mat inertia = volume.MatrixOfInertia();
        const double all[6] = {inertia(1, 1), inertia(2, 2), inertia(3, 3), inertia(1, 2), inertia(1, 3), inertia(2, 3)};
        std::copy(all, all + 6, six);
        return 0;
    });
}

RG_API int32_t rg_bounds(const rg_shape* s, double* low_high) {
    return rg_guard([&]() -> int32_t {
        exact_box(s).Get(low_high[0], low_high[1], low_high[2], low_high[3], low_high[4], low_high[5]);
        return 0;
    });
}

RG_API int32_t rg_distance(const rg_shape* a, int32_t kind_a, int32_t index_a, const rg_shape* b, int32_t kind_b, int32_t index_b, double* seven) {
    return rg_guard([&]() -> int32_t {
        const TopoDS_Shape *first = part_of(a, kind_a, index_a), *second = part_of(b, kind_b, index_b);
        if (!first || !second) {
            return rg_fail("no such face, edge or vertex");
        }
        const BRepExtrema_DistShapeShape nearest(*first, *second);
        if (!nearest.IsDone() || nearest.NbSolution() == 0) {
            return rg_fail("no nearest points were found");
        }
        seven[0] = nearest.Value();
        const gp_Pnt p = nearest.PointOnShape1(1), q = nearest.PointOnShape2(1);
        const double points[6] = {p.X(), p.Y(), p.Z(), q.X(), q.Y(), q.Z()};
        std::copy(points, points + 6, seven + 1);
        return 0;
    });
}
