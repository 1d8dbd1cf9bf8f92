// What the handles hold.
#ifndef RATIOGON_SHAPE_H
#define RATIOGON_SHAPE_H

#include "ratiogon_solids.h"

#include <Standard_Failure.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS_Shape.hxx>
#include <string>
#include <vector>

struct rg_shape {
    explicit rg_shape(const TopoDS_Shape& s);
    TopoDS_Shape shape;
    TopTools_IndexedMapOfShape faces, edges, vertices;
};

struct rg_origin {
    int32_t face, input, kind, index;
};

struct rg_result {
    rg_shape* shape = nullptr;
    std::vector<rg_origin> origins;
};

int32_t rg_fail(const std::string& why);

// Runs the body and turns what the library throws into an error.
template <typename Body>
int32_t rg_guard(Body body) {
    try {
        return body();
    } catch (const Standard_Failure& failure) {
        return rg_fail(std::string(failure.DynamicType()->Name()) + ": " + (failure.GetMessageString() ? failure.GetMessageString() : ""));
    } catch (const std::exception& failure) {
        return rg_fail(failure.what());
    }
}

#endif
