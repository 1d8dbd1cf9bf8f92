// A loft between two profiles whose sides leave the planes of the profiles squarely: every side is a surface that is cubic
// from one profile to the other, with its end tangents along the normals (Hermite blending of two curves of one degree and
// one knot vector; Piegl and Tiller, The NURBS Book, 10.3).
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

// A side between two edges; shift is what the inner rows of poles are moved by.
TopoDS_Face side(const TopoDS_Edge& a, const TopoDS_Edge& b, const gp_Vec& from, const gp_Vec& to, bool square_from, bool square_to) {
    GeomFill_Profiler profiler;
    profiler.AddCurve(curve_of(a));
    profiler.AddCurve(curve_of(b));
    profiler.Perform(1e-9);
    const int n = profiler.NbPoles(), k = profiler.NbKnots();
    TColgp_Array1OfPnt p(1, n), q(1, n);
    TColStd_Array1OfReal wp(1, n), wq(1, n), knots(1, k), ends(1, 2);
    TColStd_Array1OfInteger times(1, k), four(1, 2);
    profiler.Poles(1, p);
    profiler.Poles(2, q);
    profiler.Weights(1, wp);
    profiler.Weights(2, wq);
    profiler.KnotsAndMults(knots, times);
    ends(1) = 0;
    ends(2) = 1;
    four.Init(4);
    TColgp_Array2OfPnt poles(1, n, 1, 4);
    TColStd_Array2OfReal weights(1, n, 1, 4);
    for (int i = 1; i <= n; i++) {
        const gp_Vec across(p(i), q(i));
        poles(i, 1) = p(i);
        poles(i, 2) = p(i).Translated(square_from ? from : across / 3);
        poles(i, 3) = q(i).Translated(square_to ? to.Reversed() : -across / 3);
        poles(i, 4) = q(i);
        weights(i, 1) = weights(i, 2) = wp(i);
        weights(i, 3) = weights(i, 4) = wq(i);
    }
    const Handle(Geom_BSplineSurface) surface = new Geom_BSplineSurface(poles, weights, knots, ends, times, four, profiler.Degree(), 3, profiler.IsPeriodic(), false);
    return BRepBuilderAPI_MakeFace(surface, 1e-7).Face();
}

}  // namespace

RG_API int32_t rg_loft_square(const rg_profile* first, const rg_profile* last, int32_t square_first, int32_t square_last, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const TopoDS_Wire a = first->loops[0][0], b = last->loops[0][0];
        const std::vector<TopoDS_Edge> from = edges_of(a), to = edges_of(b);
        if (from.size() != to.size() || from.empty()) {
            return rg_fail("the profiles do not match");
        }
        const BRepAdaptor_Curve start(from[0]), end(to[0]);
        const gp_Vec across(start.Value(start.FirstParameter()), end.Value(end.FirstParameter()));
        const double third = std::abs(across.Dot(gp_Vec(first->normal))) / 3 + across.Magnitude() / 30;
        const gp_Vec up = gp_Vec(first->normal) * (across.Dot(gp_Vec(first->normal)) < 0 ? -third : third);
        const gp_Vec on = gp_Vec(last->normal) * (across.Dot(gp_Vec(last->normal)) < 0 ? -third : third);
        BRepBuilderAPI_Sewing sewing(1e-5);
        std::vector<TopoDS_Face> sides;
        for (size_t i = 0; i < from.size(); i++) {
            sides.push_back(side(from[i], to[i], up, on, square_first != 0, square_last != 0));
            sewing.Add(sides.back());
        }
        const TopoDS_Face caps[2] = {BRepBuilderAPI_MakeFace(a, true).Face(), BRepBuilderAPI_MakeFace(b, true).Face()};
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
            for (size_t e = 0; e < first->edges.size(); e++) {
                named = first->edges[e].IsSame(from[i]) ? static_cast<int32_t>(e) : named;
            }
            origins.note(sewing.Modified(sides[i]), 0, 1, named);
        }
        origins.note(sewing.Modified(caps[0]), 0, 2, 0);
        origins.note(sewing.Modified(caps[1]), 0, 3, 0);
        return origins.release(result);
    });
}
