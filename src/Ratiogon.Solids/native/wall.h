// Walls along the faces of a body: whether one is as thick everywhere as it should be.
#ifndef RATIOGON_WALL_H
#define RATIOGON_WALL_H

#include "shape.h"

#include <TopoDS_Shape.hxx>
#include <utility>
#include <vector>

// Faces of a wall's other side with the numbers (from 0) of the faces of the body that they lie behind.
using Behind = std::vector<std::pair<TopoDS_Shape, int>>;

// Whether no place on the other side comes nearer to a face of the body that keeps its wall than the wall is thick, but where
// an open face begins. Where sides of the inside pass through each other, some place does; the library's check of a solid does
// not see that. By places spread over edges and curved faces, of either side.
bool thick_everywhere(const rg_shape& body, const std::vector<bool>& open, const Behind& other_side, double thickness);

#endif
