#include "shape.h"
#include "faces.h"

#include <IntCurvesFace_ShapeIntersector.hxx>
#include <Standard_Version.hxx>
#include <TopExp.hxx>
#include <algorithm>

namespace {
thread_local std::string last_error;
thread_local rg_failure last_kind = rg_failure_other;
}

rg_shape::rg_shape(const TopoDS_Shape& s) : shape(s), facts(std::make_unique<face_facts>()) {
    TopExp::MapShapes(shape, TopAbs_FACE, faces);
    TopExp::MapShapes(shape, TopAbs_EDGE, edges);
    TopExp::MapShapes(shape, TopAbs_VERTEX, vertices);
    facts->integrals.resize(faces.Extent());
    facts->areas.resize(faces.Extent());
}

rg_shape::~rg_shape() = default;

int32_t rg_fail(const std::string& why, rg_failure kind) {
    last_error = why;
    last_kind = kind;
    return 1;
}

RG_API const char* rg_error(void) { return last_error.c_str(); }

RG_API int32_t rg_error_kind(void) { return last_kind; }

RG_API const char* rg_version(void) { return OCC_VERSION_COMPLETE; }

RG_API void rg_shape_free(rg_shape* shape) { delete shape; }

RG_API void rg_result_free(rg_result* result) { delete result; }

RG_API rg_shape* rg_result_take_shape(rg_result* result) {
    rg_shape* shape = result->shape;
    result->shape = nullptr;
    return shape;
}

RG_API int32_t rg_result_origin_count(const rg_result* result) { return static_cast<int32_t>(result->origins.size()); }

RG_API void rg_result_origins(const rg_result* result, int32_t* four_each) {
    for (const rg_origin& o : result->origins) {
        *four_each++ = o.face;
        *four_each++ = o.input;
        *four_each++ = o.kind;
        *four_each++ = o.index;
    }
}
