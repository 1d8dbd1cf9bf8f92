// Tools put on flat faces of a body, or sunk into them, without a boolean on the body.
#ifndef RATIOGON_PLANT_H
#define RATIOGON_PLANT_H

#include "shape.h"

// The union (kind 0) or difference (kind 1) of a body and tools where every tool meets the body in flat faces only, strictly
// within their outlines, and comes near nothing else. Only the tools are cut, by the planes of the faces that they go through;
// the body's other faces stay the very same. False where the case is another one: then a boolean tells.
bool plant(int32_t kind, const rg_shape* body, const rg_shape* const* tools, int32_t count, rg_result** result);

#endif
