// A loft whose sides leave the planes of its first or last profile squarely: every side is a cubic spline of curves of one
// degree and one knot vector, with its end tangents along the normals (Piegl and Tiller, The NURBS Book, 10.3).
#include "profile.h"
#include "trace.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepLib.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <BRep_Tool.hxx>
#include <GeomConvert.hxx>
#include <GeomFill_Profiler.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColStd_Array2OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <algorithm>
#include <cmath>

namespace {

Handle(Geom_Curve) curve_of(const TopoDS_Edge& edge) {
    double first, last;
    const Handle(Geom_Curve) curve = BRep_Tool::Curve(edge, first, last);
    Handle(Geom_Curve) piece = new Geom_TrimmedCurve(curve, first, last);
    Handle(Geom_BSplineCurve) spline = GeomConvert::CurveToBSplineCurve(piece);
    if (edge.Orientation() == TopAbs_REVERSED) {
        spline->Reverse();
    }
    return spline;
}

std::vector<TopoDS_Edge> edges_of(const TopoDS_Wire& wire) {
    std::vector<TopoDS_Edge> edges;
    for (BRepTools_WireExplorer it(wire); it.More(); it.Next()) {
        edges.push_back(it.Current());
    }
    return edges;
}

// A pole with its weight, as it is interpolated: homogeneous coordinates.
struct Pole {
    double x[4];

    Pole() : x{0, 0, 0, 0} {}
    Pole(const gp_Pnt& p, double w) : x{p.X() * w, p.Y() * w, p.Z() * w, w} {}
    // The slope along a direction, while the weight stays; nothing for no direction.
    Pole(const gp_Vec* d, double w) : x{d ? d->X() * w : 0, d ? d->Y() * w : 0, d ? d->Z() * w : 0, 0} {}
    Pole plus(const Pole& other, double factor) const {
        Pole sum;
        for (int i = 0; i < 4; i++) {
            sum.x[i] = x[i] + other.x[i] * factor;
        }
        return sum;
    }
    gp_Pnt at() const { return gp_Pnt(x[0] / x[3], x[1] / x[3], x[2] / x[3]); }
};

// Slopes of the cubic spline through values at knots, its ends clamped where a slope is given and without curvature where
// not (de Boor, A Practical Guide to Splines, chapter IV), by the tridiagonal system.
std::vector<Pole> slopes_of(const std::vector<Pole>& values, const std::vector<double>& knots, const Pole* first, const Pole* last) {
    const size_t n = values.size();
    std::vector<double> diagonal(n), below(n, 0), above(n, 0);
    std::vector<Pole> right(n);
    for (size_t i = 0; i < n; i++) {
        const double h0 = i > 0 ? knots[i] - knots[i - 1] : 0, h1 = i + 1 < n ? knots[i + 1] - knots[i] : 0;
        if (i == 0 || i + 1 == n) {
            const Pole* given = i == 0 ? first : last;
            const double h = i == 0 ? h1 : h0;
            diagonal[i] = given ? 1 : 2;
            (i == 0 ? above : below)[i] = given ? 0 : 1;
            right[i] = given ? *given : Pole().plus(values[i == 0 ? 1 : n - 1], 3 / h).plus(values[i == 0 ? 0 : n - 2], -3 / h);
        } else {
            below[i] = h1;
            diagonal[i] = 2 * (h0 + h1);
            above[i] = h0;
            right[i] = Pole().plus(values[i], 3 * h1 / h0).plus(values[i - 1], -3 * h1 / h0).plus(values[i + 1], 3 * h0 / h1).plus(values[i], -3 * h0 / h1);
        }
    }
    for (size_t i = 1; i < n; i++) {
        const double factor = below[i] / diagonal[i - 1];
        diagonal[i] -= factor * above[i - 1];
        right[i] = right[i].plus(right[i - 1], -factor);
    }
    for (size_t i = n; i-- > 0;) {
        Pole rest = i + 1 < n ? right[i].plus(right[i + 1], -above[i]) : right[i];
        right[i] = Pole().plus(rest, 1 / diagonal[i]);
    }
    return right;
}

// A side through one edge of every profile; the directions are how it leaves the first and reaches the last, if it must.
TopoDS_Face side(const std::vector<TopoDS_Edge>& edges, const std::vector<double>& at, const gp_Vec* leaves, const gp_Vec* reaches) {
    GeomFill_Profiler profiler;
    for (const TopoDS_Edge& edge : edges) {
        profiler.AddCurve(curve_of(edge));
    }
    profiler.Perform(1e-9);
    const int n = profiler.NbPoles(), k = profiler.NbKnots(), count = static_cast<int>(edges.size());
    TColStd_Array1OfReal knots(1, k), along(1, count);
    TColStd_Array1OfInteger times(1, k), along_times(1, count);
    profiler.KnotsAndMults(knots, times);
    std::vector<std::vector<Pole>> rows(n, std::vector<Pole>(count));
    for (int p = 0; p < count; p++) {
        TColgp_Array1OfPnt poles(1, n);
        TColStd_Array1OfReal weights(1, n);
        profiler.Poles(p + 1, poles);
        profiler.Weights(p + 1, weights);
        for (int i = 0; i < n; i++) {
            rows[i][p] = Pole(poles(i + 1), weights(i + 1));
        }
        along(p + 1) = at[p];
        along_times(p + 1) = p == 0 || p + 1 == count ? 4 : 3;
    }
    const int across = 3 * (count - 1) + 1;
    TColgp_Array2OfPnt poles(1, n, 1, across);
    TColStd_Array2OfReal weights(1, n, 1, across);
    for (int i = 0; i < n; i++) {
        const Pole first = Pole(leaves, rows[i].front().x[3]), last = Pole(reaches, rows[i].back().x[3]);
        const std::vector<Pole> slope = slopes_of(rows[i], at, leaves ? &first : nullptr, reaches ? &last : nullptr);
        for (int p = 0; p < count; p++) {
            const auto put = [&](int column, const Pole& pole) {
                poles(i + 1, column) = pole.at();
                weights(i + 1, column) = pole.x[3];
            };
            put(3 * p + 1, rows[i][p]);
            if (p > 0) {
                put(3 * p, rows[i][p].plus(slope[p], -(at[p] - at[p - 1]) / 3));
            }
            if (p + 1 < count) {
                put(3 * p + 2, rows[i][p].plus(slope[p], (at[p + 1] - at[p]) / 3));
            }
        }
    }
    const Handle(Geom_BSplineSurface) surface = new Geom_BSplineSurface(poles, weights, knots, along, times, along_times, profiler.Degree(), 3, profiler.IsPeriodic(), false);
    return BRepBuilderAPI_MakeFace(surface, 1e-7).Face();
}

gp_Pnt begin_of(const TopoDS_Edge& edge) {
    const BRepAdaptor_Curve curve(edge);
    return curve.Value(curve.FirstParameter());
}

// The normal of a profile on the side of the next, as long as the stretch between them leans along it.
gp_Vec up(const rg_profile* profile, const gp_Vec& across) {
    const double along = across.Dot(gp_Vec(profile->normal)), size = std::abs(along) + across.Magnitude() / 10;
    return gp_Vec(profile->normal) * (along < 0 ? -size : size);
}

}  // namespace

RG_API int32_t rg_loft_square(const rg_profile* const* profiles, int32_t count, int32_t square_first, int32_t square_last, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        std::vector<std::vector<TopoDS_Edge>> edges;
        std::vector<double> at(1, 0.0);
        for (int32_t p = 0; p < count; p++) {
            edges.push_back(edges_of(profiles[p]->loops[0][0]));
            if (edges[p].size() != edges[0].size() || edges[p].empty()) {
                return rg_fail("the profiles do not match");
            }
            if (p > 0) {
                at.push_back(at.back() + std::max(begin_of(edges[p][0]).Distance(begin_of(edges[p - 1][0])), 1e-6));
            }
        }
        const size_t last = edges.size() - 1;
        const gp_Vec first_way(begin_of(edges[0][0]), begin_of(edges[1][0])), last_way(begin_of(edges[last - 1][0]), begin_of(edges[last][0]));
        const gp_Vec leaves = up(profiles[0], first_way) / (at[1] - at[0]), reaches = up(profiles[last], last_way) / (at[last] - at[last - 1]);
        BRepBuilderAPI_Sewing sewing(1e-5);
        std::vector<TopoDS_Face> sides;
        for (size_t i = 0; i < edges[0].size(); i++) {
            std::vector<TopoDS_Edge> through;
            for (const auto& of : edges) {
                through.push_back(of[i]);
            }
            sides.push_back(side(through, at, square_first ? &leaves : nullptr, square_last ? &reaches : nullptr));
            sewing.Add(sides.back());
        }
        const TopoDS_Face caps[2] = {BRepBuilderAPI_MakeFace(profiles[0]->loops[0][0], true).Face(), BRepBuilderAPI_MakeFace(profiles[last]->loops[0][0], true).Face()};
        sewing.Add(caps[0]);
        sewing.Add(caps[1]);
        sewing.Perform();
        TopExp_Explorer shell(sewing.SewedShape(), TopAbs_SHELL);
        if (!shell.More()) {
            return rg_fail("the sides do not close");
        }
        TopoDS_Solid solid = BRepBuilderAPI_MakeSolid(TopoDS::Shell(shell.Current()));
        if (!BRepLib::OrientClosedSolid(solid)) {
            return rg_fail("the sides do not close");
        }
        Origins origins(solid);
        for (size_t i = 0; i < sides.size(); i++) {
            int32_t named = 0;
            for (size_t e = 0; e < profiles[0]->edges.size(); e++) {
                named = profiles[0]->edges[e].IsSame(edges[0][i]) ? static_cast<int32_t>(e) : named;
            }
            origins.note(sewing.Modified(sides[i]), 0, 1, named);
        }
        origins.note(sewing.Modified(caps[0]), 0, 2, 0);
        origins.note(sewing.Modified(caps[1]), 0, 3, 0);
        return origins.release(result);
    });
}
