#include "faces.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Curve2d.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepGProp_Domain.hxx>
#include <BRepGProp_Face.hxx>
#include <BRepGProp_Vinert.hxx>
#include <BRepTools.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <gp_Ax3.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Pln.hxx>
#include <math.hxx>
#include <math_Vector.hxx>
#include <cmath>
#include <utility>
#include <vector>

namespace {

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
    const int parts = surface.GetType() == GeomAbs_Cylinder && !along_u ? 1 : 3;
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

}  // namespace

bool quick_area(const TopoDS_Face& face, double& area, gp_Pnt& centre) {
    const BRepAdaptor_Surface surface(face, false);
    if (surface.GetType() == GeomAbs_Plane) {
        const gp_Ax3 axes = surface.Plane().Position();
        const FlatArea flat = flat_area(face, axes);
        area = std::abs(flat.area);
        centre = axes.Location().Translated(gp_Vec(axes.XDirection()) * (flat.x / flat.area) + gp_Vec(axes.YDirection()) * (flat.y / flat.area));
        return area > 0;
    }
    double box[4];
    if (surface.GetType() != GeomAbs_Cylinder || !covers_rectangle(face, box)) {
        return false;
    }
    const gp_Cylinder cylinder = surface.Cylinder();
    const double turn = box[1] - box[0], half = turn / 2, middle = (box[0] + box[1]) / 2;
    area = cylinder.Radius() * turn * (box[3] - box[2]);
    const gp_Ax3 axes = cylinder.Position();
    const double out = cylinder.Radius() * std::sin(half) / half;
    centre = axes.Location().Translated(gp_Vec(axes.XDirection()) * (out * std::cos(middle)) + gp_Vec(axes.YDirection()) * (out * std::sin(middle)) +
                                        gp_Vec(axes.Direction()) * ((box[2] + box[3]) / 2));
    return true;
}

void cone_of(const TopoDS_Face& face, double tolerance, double& volume, gp_XYZ& moment) {
    const BRepAdaptor_Surface surface(face, false);
    double box[4];
    if (surface.GetType() == GeomAbs_Plane) {
        const gp_Ax3 axes = surface.Plane().Position();
        const FlatArea flat = flat_area(face, axes);
        gp_XYZ normal = axes.XDirection().Crossed(axes.YDirection()).XYZ();
        if (face.Orientation() == TopAbs_REVERSED) {
            normal.Reverse();
        }
        const gp_XYZ centre = axes.Location().XYZ() + axes.XDirection().XYZ() * (flat.x / flat.area) + axes.YDirection().XYZ() * (flat.y / flat.area);
        volume = flat.area * normal.Dot(centre) / 3;
        moment = centre * (volume * 3 / 4);
    } else if (covers_rectangle(face, box)) {
        std::tie(volume, moment) = cone_of_rectangle(face, box);
    } else {
        BRepGProp_Face bounded(face);
        BRepGProp_Vinert part;
        part.SetLocation(gp_Pnt(0, 0, 0));
        if (surface.GetType() > GeomAbs_Torus) {
            BRepGProp_Domain domain(face);
            part.Perform(bounded, domain, tolerance);
        } else {
            BRepGProp_Domain domain(face);
            part.Perform(bounded, domain);
        }
        volume = part.Mass();
        moment = part.CentreOfMass().XYZ() * part.Mass();
    }
}
