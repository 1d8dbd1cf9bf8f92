// Areas and volumes of single faces, exact where the face is flat or covers a whole rectangle of its surface.
#ifndef RATIOGON_FACES_H
#define RATIOGON_FACES_H

#include <TopoDS_Face.hxx>
#include <gp_Pnt.hxx>

// Area and its centre; false where the face must be asked of the library.
bool quick_area(const TopoDS_Face& face, double& area, gp_Pnt& centre);

// Volume of the cone from the origin to a face, positive where the face looks away from it, and its moment.
void cone_of(const TopoDS_Face& face, double tolerance, double& volume, gp_XYZ& moment);

#endif
