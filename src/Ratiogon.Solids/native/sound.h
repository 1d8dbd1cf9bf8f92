// Whether a solid may be handed on. The library answers "done" for bodies that are open, turned inside out or held together by
// tolerances of millimetres; nothing of that kind leaves this side.
#ifndef RATIOGON_SOUND_H
#define RATIOGON_SOUND_H

#include "shape.h"

#include <TopoDS_Face.hxx>
#include <functional>
#include <string>

struct Flaw {
    rg_failure kind = rg_failure_other;
    std::string words;
    bool none() const { return words.empty(); }
};

// What is wrong with it; no words when nothing is. Faces that are known to be sound are not looked into again, but
// their edges are counted with the rest.
Flaw unsound(const rg_shape& shape, const std::function<bool(const TopoDS_Shape&)>& known);

// Whether its surface may close in both directions.
bool delicate(const TopoDS_Face& face);

// The volume within its faces, by the faces one by one.
double volume_of(const TopoDS_Shape& shape);

#endif
