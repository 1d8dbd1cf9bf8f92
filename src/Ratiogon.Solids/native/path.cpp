#include "path.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Standard_Failure.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TopoDS_Edge.hxx>
#include <gp_Circ.hxx>
#include <gp_Elips.hxx>
#include <vector>

namespace {

gp_Pnt point(const double* n) { return gp_Pnt(n[0], n[1], n[2]); }

gp_Vec vector(const double* n) { return gp_Vec(n[0], n[1], n[2]); }

TopoDS_Edge round_edge(const double* n) {
    const gp_Pnt centre = point(n);
    const gp_Vec u = vector(n + 3), v = vector(n + 6);
    const double a = u.Magnitude(), b = v.Magnitude();
    if (std::abs(a - b) <= 1e-9 * a) {
        return BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(centre, gp_Dir(u.Crossed(v)), gp_Dir(u)), a), n[9], n[10]);
    }
    if (a > b) {
        return BRepBuilderAPI_MakeEdge(gp_Elips(gp_Ax2(centre, gp_Dir(u.Crossed(v)), gp_Dir(u)), a, b), n[9], n[10]);
    }
    // The library wants the longer semi-axis first: a quarter turn earlier.
    return BRepBuilderAPI_MakeEdge(gp_Elips(gp_Ax2(centre, gp_Dir(u.Crossed(v)), gp_Dir(v)), b, a), n[9] - M_PI / 2, n[10] - M_PI / 2);
}

// degree, pole count, 1 if rational, knots with repetitions, poles, weights. Leaves n behind them.
TopoDS_Edge spline_edge(const double*& n) {
    const int degree = static_cast<int>(n[0]), count = static_cast<int>(n[1]);
    const bool rational = n[2] != 0;
    n += 3;
    std::vector<double> values;
    std::vector<int> times;
    for (int i = 0; i < count + degree + 1; i++) {
        if (values.empty() || n[i] > values.back()) {
            values.push_back(n[i]);
            times.push_back(1);
        } else {
            times.back()++;
        }
    }
    n += count + degree + 1;
    TColStd_Array1OfReal knots(1, static_cast<int>(values.size()));
    TColStd_Array1OfInteger repeats(1, static_cast<int>(values.size()));
    for (size_t i = 0; i < values.size(); i++) {
        knots(static_cast<int>(i) + 1) = values[i];
        repeats(static_cast<int>(i) + 1) = std::min(times[i], degree + 1);
    }
    TColgp_Array1OfPnt poles(1, count);
    for (int i = 0; i < count; i++, n += 3) {
        poles(i + 1) = point(n);
    }
    if (!rational) {
        return BRepBuilderAPI_MakeEdge(new Geom_BSplineCurve(poles, knots, repeats, degree));
    }
    TColStd_Array1OfReal weights(1, count);
    for (int i = 0; i < count; i++) {
        weights(i + 1) = *n++;
    }
    return BRepBuilderAPI_MakeEdge(new Geom_BSplineCurve(poles, weights, knots, repeats, degree));
}

}  // namespace

TopoDS_Wire make_path(const int32_t* kinds, const double* numbers, int32_t count) {
    BRepBuilderAPI_MakeWire wire;
    for (int32_t i = 0; i < count; i++) {
        if (kinds[i] == 0) {
            wire.Add(BRepBuilderAPI_MakeEdge(point(numbers), point(numbers + 3)).Edge());
            numbers += 6;
        } else if (kinds[i] == 1) {
            wire.Add(round_edge(numbers));
            numbers += 11;
        } else {
            wire.Add(spline_edge(numbers));
        }
        if (!wire.IsDone()) {
            throw Standard_Failure("the pieces of the path do not meet");
        }
    }
    return wire.Wire();
}
