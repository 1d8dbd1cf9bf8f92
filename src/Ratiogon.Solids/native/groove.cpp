// The groove of a thread: a trapezoid wound about an axis along a helix.
#include "trace.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepLib.hxx>
#include <BRepOffsetAPI_MakePipeShell.hxx>
#include <Geom2d_Line.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Solid.hxx>
#include <gp_Ax3.hxx>
#include <algorithm>
#include <cmath>

namespace {

/// Millimetres that the wound faces may lie beside the true helicoid: what is taken is then good to 1e-6.
constexpr double winding_tolerance = 1e-6;
constexpr double helix_tolerance = 1e-7;

}  // namespace

RG_API int32_t rg_groove(const double* a, const double* section, double pitch, double turns, double start, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const gp_Pnt origin(a[0], a[1], a[2]);
        const gp_Dir along(a[3], a[4], a[5]);
        // Begun away from where the library lets round faces close, so that no edge of the groove lies on a seam.
        const gp_Ax3 frame = gp_Ax3(origin, along).Rotated(gp_Ax1(origin, along), start);
        const double radius = section[0];
        const Handle(Geom_CylindricalSurface) cylinder = new Geom_CylindricalSurface(frame, radius);
        const gp_Dir2d rise(2 * M_PI, pitch);
        // A piece for each turn: a boolean may pass over where a surface of many turns meets a plane, and takes longer.
        const int pieces = std::max(1, static_cast<int>(std::ceil(turns)));
        const double piece = turns / pieces * std::hypot(2 * M_PI, pitch);
        BRepBuilderAPI_MakeWire spine;
        for (int i = 0; i < pieces; i++) {
            const TopoDS_Edge helix = BRepBuilderAPI_MakeEdge(new Geom2d_Line(gp_Pnt2d(0, 0), rise), cylinder, i * piece, (i + 1) * piece);
            BRepLib::BuildCurves3d(helix, helix_tolerance);
            spine.Add(helix);
        }
        BRepOffsetAPI_MakePipeShell pipe(spine.Wire());
        pipe.SetMode(along);
        pipe.SetTolerance(winding_tolerance, winding_tolerance);
        BRepBuilderAPI_MakePolygon outline;
        const double corners[4][2] = {{section[0], -section[1] / 2}, {section[2], -section[3] / 2}, {section[2], section[3] / 2}, {section[0], section[1] / 2}};
        for (const auto& c : corners) {
            outline.Add(origin.Translated(gp_Vec(frame.XDirection()) * c[0] + gp_Vec(along) * c[1]));
        }
        outline.Close();
        pipe.Add(outline.Wire());
        pipe.Build();
        if (!pipe.IsDone() || !pipe.MakeSolid()) {
            return rg_fail("the groove could not be wound");
        }
        TopoDS_Solid groove = TopoDS::Solid(pipe.Shape());
        BRepLib::OrientClosedSolid(groove);
        Origins origins(groove);
        int32_t i = 0;
        for (TopExp_Explorer it(outline.Wire(), TopAbs_EDGE); it.More(); it.Next(), i++) {
            origins.note(pipe.Generated(it.Current()), 0, 1, i);
        }
        origins.note(pipe.FirstShape(), 0, 2, 0);
        origins.note(pipe.LastShape(), 0, 3, 0);
        return origins.release(result);
    });
}
