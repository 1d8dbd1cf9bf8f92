// Wires made of curves that follow each other.
#ifndef RATIOGON_PATH_H
#define RATIOGON_PATH_H

#include "ratiogon_solids.h"

#include <TopoDS_Wire.hxx>

// kinds and numbers as in rg_path in the ABI.
TopoDS_Wire make_path(const int32_t* kinds, const double* numbers, int32_t count);

#endif
