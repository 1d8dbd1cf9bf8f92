#include "shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Curve2d.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <BRepBndLib.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRepGProp.hxx>
#include <BRepTools.hxx>
#include <Bnd_Box.hxx>
#include <GProp_GProps.hxx>
#include <BRepGProp_Domain.hxx>
#include <BRepGProp_Face.hxx>
#include <BRepGProp_Vinert.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <gp_Ax3.hxx>
#include <math.hxx>
#include <math_Vector.hxx>
#include <gp_Pln.hxx>

namespace {

const TopoDS_Shape* part_of(const rg_shape* s, int32_t kind, int32_t index) {
    const TopTools_IndexedMapOfShape* map = kind == 1 ? &s->faces : kind == 2 ? &s->edges : &s->vertices;
    if (kind == 0) {
        return &s->shape;
    }
    return index >= 0 && index < map->Extent() ? &(*map)(index + 1) : nullptr;
}

}  // namespace

namespace {

constexpr double integration_tolerance = 1e-8;

// Whether some face is neither planar nor a cylinder, cone, sphere or torus.
bool has_free_faces(const TopoDS_Shape& shape) {
    for (TopExp_Explorer it(shape, TopAbs_FACE); it.More(); it.Next()) {
        if (BRepAdaptor_Surface(TopoDS::Face(it.Current()), false).GetType() > GeomAbs_Torus) {
            return true;
        }
    }
    return false;
}

// Area and moments of a flat face by Green's theorem over its edges, ten Gauss points to each of several pieces of every
// smooth interval.
struct FlatArea {
    double area = 0, x = 0, y = 0;
};

FlatArea flat_area(const TopoDS_Face& face, const gp_Ax3& axes) {
    constexpr int order = 10, pieces = 6;
    math_Vector points(1, order), weights(1, order);
    math::GaussPoints(order, points);
    math::GaussWeights(order, weights);
    FlatArea sum;
    for (TopExp_Explorer it(face.Oriented(TopAbs_FORWARD), TopAbs_EDGE); it.More(); it.Next()) {
        const BRepAdaptor_Curve curve(TopoDS::Edge(it.Current()));
        const double way = it.Current().Orientation() == TopAbs_REVERSED ? -1 : 1;
        TColStd_Array1OfReal knots(1, curve.NbIntervals(GeomAbs_C3) + 1);
        curve.Intervals(knots, GeomAbs_C3);
        for (int k = 1; k < knots.Length(); k++) {
            const double half = (knots(k + 1) - knots(k)) / pieces / 2;
            for (int n = 0; n < pieces; n++) {
                const double middle = knots(k) + half * (2 * n + 1);
                for (int g = 1; g <= order; g++) {
                    gp_Pnt at;
                    gp_Vec slope;
                    curve.D1(middle + half * points(g), at, slope);
                    const gp_Vec from(axes.Location(), at);
                    const double x = from.Dot(axes.XDirection()), y = from.Dot(axes.YDirection());
                    const double dx = slope.Dot(axes.XDirection()), dy = slope.Dot(axes.YDirection()), w = way * half * weights(g);
                    sum.area += w * (x * dy - y * dx) / 2;
                    sum.x += w * x * x * dy / 2;
                    sum.y -= w * y * y * dx / 2;
                }
            }
        }
    }
    return sum;
}

// Whether a face covers a whole rectangle of its surface's parameters: sides of prisms, sweeps and lofts that nothing cuts.
bool covers_rectangle(const TopoDS_Face& face, double* box) {
    BRepTools::UVBounds(face, box[0], box[1], box[2], box[3]);
    double area = 0;
    for (TopExp_Explorer it(face.Oriented(TopAbs_FORWARD), TopAbs_EDGE); it.More(); it.Next()) {
        const BRepAdaptor_Curve2d curve(TopoDS::Edge(it.Current()), face);
        if (curve.GetType() != GeomAbs_Line) {
            return false;
        }
        const gp_Pnt2d a = curve.Value(curve.FirstParameter()), b = curve.Value(curve.LastParameter());
        area += (it.Current().Orientation() == TopAbs_REVERSED ? -1 : 1) * (a.X() * b.Y() - a.Y() * b.X()) / 2;
    }
    const double whole = (box[1] - box[0]) * (box[3] - box[2]);
    return std::abs(std::abs(area) - whole) < 1e-9 * whole;
}

std::vector<double> pieces_of(const BRepAdaptor_Surface& surface, bool along_u, double from, double to) {
    TColStd_Array1OfReal knots(1, (along_u ? surface.NbUIntervals(GeomAbs_C3) : surface.NbVIntervals(GeomAbs_C3)) + 1);
    along_u ? surface.UIntervals(knots, GeomAbs_C3) : surface.VIntervals(knots, GeomAbs_C3);
    constexpr int parts = 3;
    std::vector<double> all{from};
    for (int k = 1; k < knots.Length(); k++) {
        for (int n = 1; n <= parts; n++) {
            const double at = knots(k) + (knots(k + 1) - knots(k)) * n / parts;
            if (at > all.back() + 1e-12 && at < to + 1e-12) {
                all.push_back(at);
            }
        }
    }
    return all;
}

// The cone from the origin to a face over a whole rectangle: Gauss points in every smooth piece of it.
std::pair<double, gp_XYZ> cone_of_rectangle(const TopoDS_Face& face, const double* box) {
    constexpr int order = 8;
    math_Vector points(1, order), weights(1, order);
    math::GaussPoints(order, points);
    math::GaussWeights(order, weights);
    const BRepAdaptor_Surface surface(face, true);
    const std::vector<double> us = pieces_of(surface, true, box[0], box[1]), vs = pieces_of(surface, false, box[2], box[3]);
    const double way = face.Orientation() == TopAbs_REVERSED ? -1 : 1;
    double volume = 0;
    gp_XYZ moment(0, 0, 0);
    for (size_t i = 0; i + 1 < us.size(); i++) {
        for (size_t j = 0; j + 1 < vs.size(); j++) {
            const double du = (us[i + 1] - us[i]) / 2, dv = (vs[j + 1] - vs[j]) / 2;
            for (int a = 1; a <= order; a++) {
                for (int b = 1; b <= order; b++) {
                    gp_Pnt at;
                    gp_Vec u, v;
                    surface.D1(us[i] + du * (1 + points(a)), vs[j] + dv * (1 + points(b)), at, u, v);
                    const double part = way * weights(a) * weights(b) * du * dv * at.XYZ().Dot(u.Crossed(v).XYZ()) / 3;
                    volume += part;
                    moment += at.XYZ() * (part * 3 / 4);
                }
            }
        }
    }
    return {volume, moment};
}

// Volume and centre as the sum of the cones from the origin to every face.
std::pair<double, gp_Pnt> volume_by_faces(const rg_shape* s) {
    double volume = 0;
    gp_XYZ moment(0, 0, 0);
    for (int i = 1; i <= s->faces.Extent(); i++) {
        const TopoDS_Face face = TopoDS::Face(s->faces(i));
        const BRepAdaptor_Surface surface(face, false);
        if (surface.GetType() == GeomAbs_Plane) {
            const gp_Ax3 axes = surface.Plane().Position();
            const FlatArea flat = flat_area(face, axes);
            gp_XYZ normal = axes.XDirection().Crossed(axes.YDirection()).XYZ();
            if (face.Orientation() == TopAbs_REVERSED) {
                normal.Reverse();
            }
            const gp_XYZ centre = axes.Location().XYZ() + axes.XDirection().XYZ() * (flat.x / flat.area) + axes.YDirection().XYZ() * (flat.y / flat.area);
            const double cone = flat.area * normal.Dot(centre) / 3;
            volume += cone;
            moment += centre * (cone * 3 / 4);
        } else if (double box[4]; covers_rectangle(face, box)) {
            const auto [cone, part] = cone_of_rectangle(face, box);
            volume += cone;
            moment += part;
        } else {
            BRepGProp_Face bounded(face);
            BRepGProp_Domain domain(face);
            BRepGProp_Vinert part(bounded, domain, gp_Pnt(0, 0, 0), integration_tolerance);
            volume += part.Mass();
            moment += part.CentreOfMass().XYZ() * part.Mass();
        }
    }
    return {volume, gp_Pnt(moment / volume)};
}

}  // namespace

RG_API int32_t rg_mass(const rg_shape* s, double* five) {
    return rg_guard([&]() -> int32_t {
        GProp_GProps area;
        std::pair<double, gp_Pnt> volume;
        if (has_free_faces(s->shape)) {
            volume = volume_by_faces(s);
            BRepGProp::SurfaceProperties(s->shape, area, integration_tolerance, true);
        } else {
            GProp_GProps whole;
            BRepGProp::VolumeProperties(s->shape, whole, false, false, false);
            volume = {whole.Mass(), whole.CentreOfMass()};
            BRepGProp::SurfaceProperties(s->shape, area);
        }
        const gp_Pnt& centre = volume.second;
        const double all[5] = {volume.first, area.Mass(), centre.X(), centre.Y(), centre.Z()};
        std::copy(all, all + 5, five);
        return 0;
    });
}

RG_API int32_t rg_inertia(const rg_shape* s, double* six) {
    return rg_guard([&]() -> int32_t {
        GProp_GProps volume;
        BRepGProp::VolumeProperties(s->shape, volume, false, false, false);
        const gp_Mat inertia = volume.MatrixOfInertia();
        const double all[6] = {inertia(1, 1), inertia(2, 2), inertia(3, 3), inertia(1, 2), inertia(1, 3), inertia(2, 3)};
        std::copy(all, all + 6, six);
        return 0;
    });
}

RG_API int32_t rg_bounds(const rg_shape* s, double* low_high) {
    return rg_guard([&]() -> int32_t {
        Bnd_Box box;
        BRepBndLib::AddOptimal(s->shape, box, false, false);
        box.Get(low_high[0], low_high[1], low_high[2], low_high[3], low_high[4], low_high[5]);
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
