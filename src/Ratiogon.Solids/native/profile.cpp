#include "profile.h"

#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRep_Builder.hxx>
#include <Geom_BSplineCurve.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <gp_Circ.hxx>
#include <gp_Elips.hxx>
#include <gp_Pln.hxx>
#include <algorithm>
#include <memory>

namespace {

constexpr int numbers_per_edge = 9;

// A chain of cubic Bezier curves as one B-spline, with knots as smooth as the curve is.
Handle(Geom_BSplineCurve) make_spline(const Plane& plane, const double* poles, int count) {
    const int spans = (count - 1) / 3;
    TColgp_Array1OfPnt points(1, count);
    for (int i = 0; i < count; i++) {
        points(i + 1) = plane.at(poles[2 * i], poles[2 * i + 1]);
    }
    TColStd_Array1OfReal knots(1, spans + 1);
    TColStd_Array1OfInteger times(1, spans + 1);
    for (int i = 0; i <= spans; i++) {
        knots(i + 1) = i;
        times(i + 1) = i == 0 || i == spans ? 4 : 3;
    }
    Handle(Geom_BSplineCurve) curve = new Geom_BSplineCurve(points, knots, times, 3);
    for (int i = spans; i > 1; i--) {
        if (!curve->RemoveKnot(i, 1, 1e-9)) {
            curve->RemoveKnot(i, 2, 1e-9);
        }
    }
    return curve;
}

// An edge on an ellipse of these semi-axes, the way it goes.
TopoDS_Edge make_elliptic(const Plane& plane, const double* e, const double* axes, const TopoDS_Vertex& from, const TopoDS_Vertex& to) {
    const gp_Vec u = gp_Vec(plane.x) * axes[0] + gp_Vec(plane.y) * axes[1], v = gp_Vec(plane.x) * axes[2] + gp_Vec(plane.y) * axes[3];
    const bool first = u.Magnitude() >= v.Magnitude();
    const gp_Ax2 frame(plane.at(e[5], e[6]), e[8] != 0 ? plane.z : plane.z.Reversed(), gp_Dir(first ? u : v));
    const gp_Elips ellipse(frame, std::max(u.Magnitude(), v.Magnitude()), std::min(u.Magnitude(), v.Magnitude()));
    return e[1] == e[3] && e[2] == e[4] ? BRepBuilderAPI_MakeEdge(ellipse, from, from).Edge() : BRepBuilderAPI_MakeEdge(ellipse, from, to).Edge();
}

// The edges of a loop share their vertices, so that the wire keeps them as they are and the history finds them.
TopoDS_Wire make_loop(const Plane& plane, const double* edges, int32_t count, const double*& extra, std::vector<TopoDS_Edge>& made) {
    std::vector<TopoDS_Vertex> corners;
    for (int32_t i = 0; i < count; i++) {
        const double* e = edges + i * numbers_per_edge;
        corners.push_back(BRepBuilderAPI_MakeVertex(plane.at(e[1], e[2])));
    }
    BRepBuilderAPI_MakeWire wire;
    for (int32_t i = 0; i < count; i++) {
        const double* e = edges + i * numbers_per_edge;
        const TopoDS_Vertex &from = corners[i], &to = corners[(i + 1) % count];
        TopoDS_Edge edge;
        if (e[0] == 0) {
            edge = BRepBuilderAPI_MakeEdge(from, to);
        } else if (e[0] == 3) {
            const Handle(Geom_BSplineCurve) curve = make_spline(plane, extra, static_cast<int>(e[5]));
            edge = BRepBuilderAPI_MakeEdge(curve, from, to, curve->FirstParameter(), curve->LastParameter());
            extra += 2 * static_cast<int>(e[5]);
        } else if (e[0] == 4) {
            edge = make_elliptic(plane, e, extra, from, to);
            extra += 4;
        } else {
            const gp_Dir axis = e[8] != 0 ? plane.z : plane.z.Reversed();
            gp_Pnt centre = plane.at(e[5], e[6]);
            const gp_Circ circle(gp_Ax2(centre, axis, gp_Dir(gp_Vec(centre, plane.at(e[1], e[2])))), e[7]);
            edge = e[0] == 2 ? BRepBuilderAPI_MakeEdge(circle, from, from).Edge() : BRepBuilderAPI_MakeEdge(circle, from, to).Edge();
        }
        made.push_back(edge);
        wire.Add(edge);
    }
    return wire.Wire();
}

}  // namespace

RG_API int32_t rg_profile_make(const double* plane_numbers, const double* edges, const double* extra, const int32_t* loop_edges,
                               const int32_t* region_loops, int32_t region_count, double offset, rg_profile** profile) {
    return rg_guard([&]() -> int32_t {
        const Plane plane(plane_numbers, offset);
        const gp_Pln surface(gp_Ax3(plane.origin, plane.z, plane.x));
        auto out = std::make_unique<rg_profile>();
        out->normal = plane.z;
        BRep_Builder builder;
        builder.MakeCompound(out->compound);
        for (int32_t r = 0; r < region_count; r++) {
            std::unique_ptr<BRepBuilderAPI_MakeFace> face;
            std::vector<TopoDS_Wire> loops;
            for (int32_t l = 0; l < region_loops[r]; l++, loop_edges++) {
                loops.push_back(make_loop(plane, edges, *loop_edges, extra, out->edges));
                edges += *loop_edges * numbers_per_edge;
                if (!face) {
                    face = std::make_unique<BRepBuilderAPI_MakeFace>(surface, loops.back(), true);
                } else {
                    face->Add(loops.back());
                }
            }
            out->loops.push_back(loops);
            out->faces.push_back(face->Face());
            builder.Add(out->compound, out->faces.back());
        }
        *profile = out.release();
        return 0;
    });
}

RG_API void rg_profile_free(rg_profile* profile) { delete profile; }
