#include "shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepAlgoAPI_Section.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Shape.hxx>
#include <gp_Ax3.hxx>
#include <gp_Pln.hxx>
#include <memory>

namespace {

// A section along an edge of the shape has no face of its own: the first face that it lies on.
int32_t face_under(const rg_shape* s, const TopoDS_Edge& edge) {
    const BRepAdaptor_Curve curve(edge);
    const TopoDS_Vertex middle = BRepBuilderAPI_MakeVertex(curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2));
    for (int i = 1; i <= s->faces.Extent(); i++) {
        const BRepExtrema_DistShapeShape gap(middle, s->faces(i));
        if (gap.IsDone() && gap.Value() < 1e-6) {
            return i - 1;
        }
    }
    return -1;
}

}  // namespace

RG_API int32_t rg_section(const rg_shape* s, const double* p, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const gp_Dir x(p[3], p[4], p[5]), y(p[6], p[7], p[8]);
        BRepAlgoAPI_Section section(s->shape, gp_Pln(gp_Ax3(gp_Pnt(p[0], p[1], p[2]), x.Crossed(y), x)), false);
        section.ComputePCurveOn1(true);
        section.Approximation(true);
        section.SetNonDestructive(true);
        section.Build();
        if (!section.IsDone()) {
            return rg_fail("the section could not be cut");
        }
        auto out = std::make_unique<rg_result>();
        out->shape = new rg_shape(section.Shape());
        for (int i = 1; i <= out->shape->edges.Extent(); i++) {
            TopoDS_Shape face;
            const bool own = section.HasAncestorFaceOn1(out->shape->edges(i), face);
            const int32_t found = own ? s->faces.FindIndex(face) - 1 : face_under(s, TopoDS::Edge(out->shape->edges(i)));
            if (found >= 0) {
                out->origins.push_back({i - 1, 0, 0, found});
            }
        }
        *result = out.release();
        return 0;
    });
}
