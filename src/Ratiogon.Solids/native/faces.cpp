#include "faces.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Curve2d.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepGProp.hxx>
#include <BRepGProp_Domain.hxx>
#include <BRepGProp_Face.hxx>
#include <BRepGProp_Vinert.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <GProp_GProps.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <gp_Ax3.hxx>
#include <gp_Lin2d.hxx>
#include <gp_Pln.hxx>
#include <math.hxx>
#include <math_Vector.hxx>
#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace {

// The edges that a face ends at, without those that a combination left within it.
std::vector<TopoDS_Edge> outline_of(const TopoDS_Face& face) {
    std::vector<TopoDS_Edge> edges;
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
        if (it.Current().Orientation() == TopAbs_FORWARD || it.Current().Orientation() == TopAbs_REVERSED) {
            edges.push_back(TopoDS::Edge(it.Current()));
        }
    }
    return edges;
}

TopoDS_Face forward(const TopoDS_Face& face) { return TopoDS::Face(face.Oriented(TopAbs_FORWARD)); }

// The way an edge goes, or a face looks.
double way_of(const TopoDS_Shape& shape) { return shape.Orientation() == TopAbs_REVERSED ? -1 : 1; }

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
    for (const TopoDS_Edge& edge : outline_of(forward(face))) {
        const BRepAdaptor_Curve curve(edge);
        const double way = way_of(edge);
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
    // The same way round for both: of the two curves of a seam the library gives the one by the orientations of both.
    const TopoDS_Face facing = forward(face);
    for (const TopoDS_Edge& edge : outline_of(facing)) {
        const BRepAdaptor_Curve2d curve(edge, facing);
        if (curve.GetType() != GeomAbs_Line) {
            return false;
        }
        const gp_Pnt2d a = curve.Value(curve.FirstParameter()), b = curve.Value(curve.LastParameter());
        area += way_of(edge) * (a.X() * b.Y() - a.Y() * b.X()) / 2;
    }
    const double whole = (box[1] - box[0]) * (box[3] - box[2]);
    return std::abs(std::abs(area) - whole) < 1e-9 * whole;
}

// From one parameter to another, with the places between where the surface is not smooth, and some more.
std::vector<double> pieces_of(const BRepAdaptor_Surface& surface, bool along_u, double from, double to) {
    TColStd_Array1OfReal knots(1, (along_u ? surface.NbUIntervals(GeomAbs_C3) : surface.NbVIntervals(GeomAbs_C3)) + 1);
    along_u ? surface.UIntervals(knots, GeomAbs_C3) : surface.VIntervals(knots, GeomAbs_C3);
    const int parts = (surface.GetType() == GeomAbs_Cylinder && !along_u) || knots.Length() > 12 ? 1 : 3;
    const double near = 1e-12 * std::max({1.0, std::abs(from), std::abs(to)});
    std::vector<double> all{from};
    for (int k = 1; k < knots.Length(); k++) {
        for (int n = 1; n <= parts; n++) {
            const double at = knots(k) + (knots(k + 1) - knots(k)) * n / parts;
            if (at > all.back() + near && at < to - near) {
                all.push_back(at);
            }
        }
    }
    all.push_back(to);
    return all;
}

// The stretches of an outline on which both it and the surface below it are smooth: cut at its own knots, and where a
// stretch along v passes a knot of the surface.
std::vector<std::pair<double, double>> smooth_pieces(const BRepAdaptor_Curve2d& curve, const std::vector<double>& vs) {
    TColStd_Array1OfReal knots(1, curve.NbIntervals(GeomAbs_C3) + 1);
    curve.Intervals(knots, GeomAbs_C3);
    std::vector<double> cuts;
    for (int k = 1; k <= knots.Length(); k++) {
        cuts.push_back(knots(k));
    }
    if (curve.GetType() == GeomAbs_Line) {
        const gp_Lin2d line = curve.Line();
        const double rise = line.Direction().Y(), from = cuts.front(), to = cuts.back();
        for (size_t i = 0; std::abs(rise) > 1e-12 && i < vs.size(); i++) {
            const double at = (vs[i] - line.Location().Y()) / rise;
            if (at > from + 1e-12 && at < to - 1e-12) {
                cuts.push_back(at);
            }
        }
        std::sort(cuts.begin(), cuts.end());
    }
    std::vector<std::pair<double, double>> pieces;
    const int parts = curve.GetType() == GeomAbs_Line ? 1 : cuts.size() > 12 ? 2 : 6;
    for (size_t i = 0; i + 1 < cuts.size(); i++) {
        for (int n = 0; n < parts; n++) {
            const double length = (cuts[i + 1] - cuts[i]) / parts;
            pieces.emplace_back(cuts[i] + n * length, cuts[i] + (n + 1) * length);
        }
    }
    return pieces;
}

// Gauss points and weights on [-1, 1].
struct Gauss {
    static constexpr int order = 8;
    math_Vector points{1, order}, weights{1, order};
    Gauss() {
        math::GaussPoints(order, points);
        math::GaussWeights(order, weights);
    }
};

const Gauss& gauss() {
    static const Gauss all;
    return all;
}

// What one place of a surface adds, for each unit of its parameters.
FaceIntegrals at_place(const BRepAdaptor_Surface& surface, double u, double v, double way) {
    gp_Pnt at;
    gp_Vec du, dv;
    surface.D1(u, v, at, du, dv);
    const gp_XYZ across = du.Crossed(dv).XYZ();
    FaceIntegrals one;
    one.volume = way * at.XYZ().Dot(across) / 3;
    one.moment = at.XYZ() * (one.volume * 3 / 4);
    one.area = across.Modulus();
    one.first = at.XYZ() * one.area;
    return one;
}

// Along u from the first of the places to a value, at one v.
FaceIntegrals along_u(const BRepAdaptor_Surface& surface, const std::vector<double>& us, double to, double v, double way) {
    FaceIntegrals sum;
    for (size_t i = 0; i + 1 < us.size() && us[i] < to; i++) {
        const double half = (std::min(us[i + 1], to) - us[i]) / 2;
        for (int a = 1; a <= Gauss::order; a++) {
            sum.add(at_place(surface, us[i] + half * (1 + gauss().points(a)), v, way), half * gauss().weights(a));
        }
    }
    return sum;
}

// A face over a whole rectangle: Gauss points in every smooth piece of it.
FaceIntegrals over_rectangle(const TopoDS_Face& face, const double* box) {
    const BRepAdaptor_Surface surface(face, true);
    const std::vector<double> us = pieces_of(surface, true, box[0], box[1]), vs = pieces_of(surface, false, box[2], box[3]);
    FaceIntegrals sum;
    for (size_t j = 0; j + 1 < vs.size(); j++) {
        const double half = (vs[j + 1] - vs[j]) / 2;
        for (int b = 1; b <= Gauss::order; b++) {
            sum.add(along_u(surface, us, us.back(), vs[j] + half * (1 + gauss().points(b)), way_of(face)), half * gauss().weights(b));
        }
    }
    return sum;
}

// A face within whatever bounds, by Green's theorem: along its outline in the surface's parameters, what lies between the
// outline and the lowest u, times the step in v. False where the outline does not go round it.
bool within_outline(const TopoDS_Face& face, const double* box, FaceIntegrals& sum) {
    const BRepAdaptor_Surface surface(face, true);
    const std::vector<double> us = pieces_of(surface, true, box[0], box[1]), vs = pieces_of(surface, false, box[2], box[3]);
    double covered = 0;
    const TopoDS_Face facing = forward(face);
    for (const TopoDS_Edge& edge : outline_of(facing)) {
        const BRepAdaptor_Curve2d curve(edge, facing);
        const double way = way_of(edge);
        for (const auto& [from, to] : smooth_pieces(curve, vs)) {
            const double half = (to - from) / 2;
            for (int g = 1; g <= Gauss::order; g++) {
                gp_Pnt2d at;
                gp_Vec2d slope;
                curve.D1(from + half * (1 + gauss().points(g)), at, slope);
                const double step = way * half * gauss().weights(g) * slope.Y();
                if (step != 0 && at.X() > us.front()) {
                    covered += (at.X() - us.front()) * step;
                    sum.add(along_u(surface, us, at.X(), at.Y(), way_of(face)), step);
                }
            }
        }
    }
    return covered > 0 && covered < (box[1] - box[0]) * (box[3] - box[2]) * (1 + 1e-9) && sum.area > 0;
}

// A face that is not flat.
bool curved(const TopoDS_Face& face, FaceIntegrals& sum) {
    double box[4];
    if (covers_rectangle(face, box)) {
        sum = over_rectangle(face, box);
        return true;
    }
    return within_outline(face, box, sum);
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
    FaceIntegrals sum;
    if (!curved(face, sum)) {
        return false;
    }
    area = sum.area;
    centre = gp_Pnt(sum.first / sum.area);
    return true;
}

FaceIntegrals integrals_of(const TopoDS_Face& face) {
    const BRepAdaptor_Surface surface(face, false);
    FaceIntegrals sum;
    if (surface.GetType() == GeomAbs_Plane) {
        const gp_Ax3 axes = surface.Plane().Position();
        const FlatArea flat = flat_area(face, axes);
        gp_XYZ normal = axes.XDirection().Crossed(axes.YDirection()).XYZ();
        if (face.Orientation() == TopAbs_REVERSED) {
            normal.Reverse();
        }
        const gp_XYZ centre = axes.Location().XYZ() + axes.XDirection().XYZ() * (flat.x / flat.area) + axes.YDirection().XYZ() * (flat.y / flat.area);
        sum.volume = flat.area * normal.Dot(centre) / 3;
        sum.moment = centre * (sum.volume * 3 / 4);
        sum.area = std::abs(flat.area);
        return sum;
    }
    if (curved(face, sum)) {
        return sum;
    }
    BRepGProp_Face bounded(face);
    BRepGProp_Vinert part;
    part.SetLocation(gp_Pnt(0, 0, 0));
    BRepGProp_Domain domain(face);
    part.Perform(bounded, domain, integration_tolerance);
    GProp_GProps area;
    BRepGProp::SurfaceProperties(face, area, integration_tolerance);
    sum.volume = part.Mass();
    sum.moment = part.CentreOfMass().XYZ() * part.Mass();
    sum.area = area.Mass();
    return sum;
}

TopoDS_Face with_outlines(const TopoDS_Face& face, const std::vector<TopoDS_Shape>& wires) {
    BRep_Builder builder;
    TopoDS_Face next = TopoDS::Face(face.EmptyCopied());
    next.Orientation(TopAbs_FORWARD);
    for (TopExp_Explorer it(forward(face), TopAbs_WIRE); it.More(); it.Next()) {
        builder.Add(next, it.Current());
    }
    for (const TopoDS_Shape& wire : wires) {
        builder.Add(next, face.Orientation() == TopAbs_REVERSED ? wire.Reversed() : wire);
    }
    next.Orientation(face.Orientation());
    return next;
}

FaceIntegrals integrals_of(const rg_shape& body, int number) {
    {
        const std::lock_guard<std::mutex> lock(body.facts->gate);
        if (body.facts->integrals[number]) {
            return *body.facts->integrals[number];
        }
    }
    const FaceIntegrals found = integrals_of(TopoDS::Face(body.faces(number + 1)));
    const std::lock_guard<std::mutex> lock(body.facts->gate);
    return *(body.facts->integrals[number] = found);
}

face_facts::Area area_of(const rg_shape& body, int number) {
    {
        const std::lock_guard<std::mutex> lock(body.facts->gate);
        if (body.facts->areas[number]) {
            return *body.facts->areas[number];
        }
    }
    const TopoDS_Face face = TopoDS::Face(body.faces(number + 1));
    face_facts::Area found{};
    if (!quick_area(face, found.area, found.centre)) {
        GProp_GProps area;
        BRepGProp::SurfaceProperties(face, area);
        found = {area.Mass(), area.CentreOfMass()};
    }
    const std::lock_guard<std::mutex> lock(body.facts->gate);
    return *(body.facts->areas[number] = found);
}

double volume_of(const rg_shape& body) { return volume_of(body, body.shape); }

double volume_of(const rg_shape& body, const TopoDS_Shape& part_of_it) {
    double volume = 0;
    // A face between two solids stands in both, once each way round.
    for (TopExp_Explorer it(part_of_it, TopAbs_FACE); it.More(); it.Next()) {
        const int number = body.faces.FindIndex(it.Current());
        const double part = integrals_of(body, number - 1).volume;
        volume += it.Current().Orientation() == body.faces(number).Orientation() ? part : -part;
    }
    return volume;
}

void hand_on(const rg_shape& from, const rg_shape& to) {
    if (&from == &to) {
        return;
    }
    const std::scoped_lock lock(from.facts->gate, to.facts->gate);
    for (int i = 0; i < to.faces.Extent(); i++) {
        const int had = from.faces.FindIndex(to.faces(i + 1)) - 1;
        if (had < 0) {
            continue;
        }
        if (!to.facts->areas[i]) {
            to.facts->areas[i] = from.facts->areas[had];
        }
        if (!to.facts->integrals[i] && from.facts->integrals[had]) {
            FaceIntegrals known = *from.facts->integrals[had];
            if (to.faces(i + 1).Orientation() != from.faces(had + 1).Orientation()) {
                known.volume = -known.volume;
                known.moment.Reverse();
            }
            to.facts->integrals[i] = known;
        }
    }
}
