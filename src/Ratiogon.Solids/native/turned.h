// The same body with its round faces written down from another place on.
#ifndef RATIOGON_TURNED_H
#define RATIOGON_TURNED_H

#include <BRepTools_Modifier.hxx>
#include <TopoDS_Shape.hxx>

// Cylinders, cones, spheres and tori of a copy count their angle from elsewhere; points, edges and areas are where they were. The
// library finds where two such surfaces meet by formulas that go astray, without a word, for some places of their seams.
class Turned {
public:
    // By an angle in radians.
    Turned(const TopoDS_Shape& body, double by);

    const TopoDS_Shape& shape() const { return made; }

    // What a face of the body has become.
    TopoDS_Shape of(const TopoDS_Shape& face) const;

private:
    BRepTools_Modifier modifier;
    TopoDS_Shape made;
};

#endif
