// What the handles hold.
#ifndef RATIOGON_SHAPE_H
#define RATIOGON_SHAPE_H

#include "ratiogon_solids.h"

#include <Standard_Failure.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS_Shape.hxx>
#include <memory>
#include <string>
#include <vector>

class IntCurvesFace_ShapeIntersector;
struct face_facts;

struct rg_shape {
    explicit rg_shape(const TopoDS_Shape& s);
    ~rg_shape();
    rg_shape(const rg_shape&) = delete;
    rg_shape& operator=(const rg_shape&) = delete;
    TopoDS_Shape shape;
    TopTools_IndexedMapOfShape faces, edges, vertices;
    // Made for the first line that is cut with the shape; making it takes longer than cutting.
    mutable std::unique_ptr<IntCurvesFace_ShapeIntersector> lines;
    // What was found out about its faces, in faces.cpp.
    const std::unique_ptr<face_facts> facts;
};

struct rg_origin {
    int32_t face, input, kind, index;
};

struct rg_result {
    rg_result() = default;
    ~rg_result() { delete shape; }
    rg_result(const rg_result&) = delete;
    rg_result& operator=(const rg_result&) = delete;
    rg_shape* shape = nullptr;
    std::vector<rg_origin> origins;
};

int32_t rg_fail(const std::string& why, rg_failure kind = rg_failure_other);

// Runs the body and turns what the library throws into an error.
template <typename Body>
int32_t rg_guard(Body body) {
    try {
        return body();
    } catch (const Standard_Failure& failure) {
        return rg_fail(std::string(failure.DynamicType()->Name()) + ": " + (failure.GetMessageString() ? failure.GetMessageString() : ""));
    } catch (const std::exception& failure) {
        return rg_fail(failure.what());
    } catch (...) {
        return rg_fail("something unknown was thrown");
    }
}

#endif
