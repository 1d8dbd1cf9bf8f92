// Triangles that keep to the deviation they were asked for.
#ifndef RATIOGON_REFINE_H
#define RATIOGON_REFINE_H

#include <TopoDS_Face.hxx>
#include <gp_Pnt.hxx>
#include <gp_Pnt2d.hxx>

class BRepAdaptor_Surface;

// How far a place lies from a surface, near one of its places.
double away_from(const BRepAdaptor_Surface& surface, const gp_Pnt& place, gp_Pnt2d at);

// Cuts triangles of a face in two or more until none strays further than a deviation: of free-form faces the library gives up early.
// The corners on the face's edges stay, and with them what its neighbours share.
void refine(const TopoDS_Face& face, double deviation);

#endif
