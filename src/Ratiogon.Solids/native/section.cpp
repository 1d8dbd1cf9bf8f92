#include "shape.h"

#include <BRepAlgoAPI_Section.hxx>
#include <TopoDS_Shape.hxx>
#include <gp_Ax3.hxx>
#include <gp_Pln.hxx>
#include <memory>

RG_API int32_t rg_section(const rg_shape* s, const double* p, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const gp_Dir x(p[3], p[4], p[5]), y(p[6], p[7], p[8]);
        BRepAlgoAPI_Section section(s->shape, gp_Pln(gp_Ax3(gp_Pnt(p[0], p[1], p[2]), x.Crossed(y), x)), false);
        section.ComputePCurveOn1(true);
        section.Approximation(true);
        section.Build();
        if (!section.IsDone()) {
            return rg_fail("the section could not be cut");
        }
        auto out = std::make_unique<rg_result>();
        out->shape = new rg_shape(section.Shape());
        for (int i = 1; i <= out->shape->edges.Extent(); i++) {
            TopoDS_Shape face;
            if (section.HasAncestorFaceOn1(out->shape->edges(i), face)) {
                out->origins.push_back({i - 1, 0, 0, s->faces.FindIndex(face) - 1});
            }
        }
        *result = out.release();
        return 0;
    });
}
