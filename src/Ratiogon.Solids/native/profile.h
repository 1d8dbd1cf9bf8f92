// A planar profile: faces with their loops, and the edges in the order in which they were given.
#ifndef RATIOGON_PROFILE_H
#define RATIOGON_PROFILE_H

#include "shape.h"

#include <TopoDS_Compound.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Wire.hxx>
#include <gp_Ax3.hxx>
#include <gp_Dir.hxx>
#include <gp_Pnt.hxx>
#include <gp_Vec.hxx>

struct Plane {
    gp_Pnt origin;
    gp_Dir x, y, z;

    explicit Plane(const double* p, double offset = 0) : x(p[3], p[4], p[5]), y(p[6], p[7], p[8]), z(x.Crossed(y)) {
        origin = gp_Pnt(p[0], p[1], p[2]).Translated(gp_Vec(z) * offset);
    }

    gp_Pnt at(double u, double v) const { return origin.Translated(gp_Vec(x) * u + gp_Vec(y) * v); }

    gp_Ax3 axes() const { return gp_Ax3(origin, z, x); }
};

struct rg_profile {
    TopoDS_Compound compound;
    std::vector<TopoDS_Face> faces;
    std::vector<std::vector<TopoDS_Wire>> loops;
    std::vector<TopoDS_Edge> edges;
    gp_Dir normal;
};

#endif
