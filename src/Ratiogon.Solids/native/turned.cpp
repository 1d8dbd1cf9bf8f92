#include "turned.h"

#include <BRepTools_Modification.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_Curve.hxx>
#include <Geom_ConicalSurface.hxx>
#include <Geom_CylindricalSurface.hxx>
#include <Geom_SphericalSurface.hxx>
#include <Geom_ToroidalSurface.hxx>
#include <TopLoc_Location.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Vertex.hxx>
#include <gp_Ax1.hxx>
#include <gp_Ax3.hxx>
#include <gp_Vec2d.hxx>

namespace {

class Turn : public BRepTools_Modification {
public:
    explicit Turn(double by) : by(by) {}

    Standard_Boolean NewSurface(const TopoDS_Face& face, Handle(Geom_Surface) & surface, TopLoc_Location& location, Standard_Real& tolerance,
        Standard_Boolean& turns_wires, Standard_Boolean& turns_face) override {
        const Handle(Geom_ElementarySurface) round = turning(face, location);
        if (round.IsNull()) {
            return false;
        }
        const Handle(Geom_ElementarySurface) copy = Handle(Geom_ElementarySurface)::DownCast(round->Copy());
        gp_Ax3 place = copy->Position();
        place.Rotate(gp_Ax1(place.Location(), place.Direction()), by);
        copy->SetPosition(place);
        surface = copy;
        tolerance = BRep_Tool::Tolerance(face);
        turns_wires = turns_face = false;
        return true;
    }

    Standard_Boolean NewCurve2d(const TopoDS_Edge& edge, const TopoDS_Face& face, const TopoDS_Edge&, const TopoDS_Face&,
        Handle(Geom2d_Curve) & curve, Standard_Real& tolerance) override {
        TopLoc_Location location;
        const Handle(Geom_ElementarySurface) round = turning(face, location);
        if (round.IsNull()) {
            return false;
        }
        double first, last;
        const Handle(Geom2d_Curve) here = BRep_Tool::CurveOnSurface(edge, face, first, last);
        if (here.IsNull()) {
            return false;
        }
        curve = Handle(Geom2d_Curve)::DownCast(here->Translated(gp_Vec2d(round->Position().Direct() ? -by : by, 0)));
        tolerance = BRep_Tool::Tolerance(edge);
        return true;
    }

    Standard_Boolean NewCurve(const TopoDS_Edge&, Handle(Geom_Curve) &, TopLoc_Location&, Standard_Real&) override { return false; }

    Standard_Boolean NewPoint(const TopoDS_Vertex&, gp_Pnt&, Standard_Real&) override { return false; }

    Standard_Boolean NewParameter(const TopoDS_Vertex&, const TopoDS_Edge&, Standard_Real&, Standard_Real&) override { return false; }

    GeomAbs_Shape Continuity(const TopoDS_Edge& edge, const TopoDS_Face& a, const TopoDS_Face& b, const TopoDS_Edge&, const TopoDS_Face&,
        const TopoDS_Face&) override {
        return BRep_Tool::Continuity(edge, a, b);
    }

private:
    static Handle(Geom_ElementarySurface) turning(const TopoDS_Face& face, TopLoc_Location& location) {
        const Handle(Geom_Surface) surface = BRep_Tool::Surface(face, location);
        const bool round = surface->IsKind(STANDARD_TYPE(Geom_CylindricalSurface)) || surface->IsKind(STANDARD_TYPE(Geom_ConicalSurface)) ||
            surface->IsKind(STANDARD_TYPE(Geom_SphericalSurface)) || surface->IsKind(STANDARD_TYPE(Geom_ToroidalSurface));
        return round ? Handle(Geom_ElementarySurface)::DownCast(surface) : Handle(Geom_ElementarySurface)();
    }

    double by;
};

}  // namespace

// Looking through the body is left out where nothing turns, as in nearly every operation.
Turned::Turned(const TopoDS_Shape& body, double by) : made(body) {
    if (by != 0) {
        modifier.Init(body);
        modifier.Perform(new Turn(by));
        if (modifier.IsDone()) {
            made = modifier.ModifiedShape(body);
        }
    }
}

TopoDS_Shape Turned::of(const TopoDS_Shape& face) const { return modifier.IsDone() ? modifier.ModifiedShape(face) : face; }
