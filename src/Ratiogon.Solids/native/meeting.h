// How the two faces beside an edge of a body meet.
#ifndef RATIOGON_MEETING_H
#define RATIOGON_MEETING_H

#include <BRepAdaptor_Surface.hxx>
#include <BRep_Tool.hxx>
#include <Geom2d_Curve.hxx>
#include <Geom_Curve.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Dir.hxx>
#include <gp_Vec.hxx>
#include <utility>

// How the faces beside an edge meet: the angle between their normals, positive where the material stands out.
class Meeting {
public:
    explicit Meeting(const TopoDS_Shape& body) { TopExp::MapShapesAndAncestors(body, TopAbs_EDGE, TopAbs_FACE, around); }

    // The normals of the two faces at a place along the edge, from 0 to 1, and its direction as the first face goes along it;
    // false where no two faces meet or one has no normal.
    bool normals(const TopoDS_Edge& edge, double share, gp_Dir& a, gp_Dir& b, gp_Vec& along) const {
        const int found = around.FindIndex(edge);
        if (found == 0 || around(found).Extent() != 2) {
            return false;
        }
        const TopoDS_Face first = TopoDS::Face(around(found).First()), second = TopoDS::Face(around(found).Last());
        if (!normal(first, edge, share, a, along) || !normal(second, edge, share, b, along)) {
            return false;
        }
        // The tangent as the first face goes along the edge.
        TopExp_Explorer own(first, TopAbs_EDGE);
        while (own.More() && !own.Current().IsSame(edge)) {
            own.Next();
        }
        if (own.More() && own.Current().Orientation() == TopAbs_REVERSED) {
            along.Reverse();
        }
        return along.Magnitude() >= gp::Resolution();
    }

    // The angle there.
    bool at(const TopoDS_Edge& edge, double share, double& angle) const {
        gp_Vec along;
        gp_Dir a, b;
        if (!normals(edge, share, a, b, along)) {
            return false;
        }
        angle = a.AngleWithRef(b, gp_Dir(along));
        return true;
    }

    // The two faces at an edge; null where it has one or none.
    std::pair<TopoDS_Face, TopoDS_Face> beside(const TopoDS_Edge& edge) const {
        const int found = around.FindIndex(edge);
        if (found == 0 || around(found).Extent() != 2) {
            return {};
        }
        return {TopoDS::Face(around(found).First()), TopoDS::Face(around(found).Last())};
    }

private:
    static bool normal(const TopoDS_Face& face, const TopoDS_Edge& edge, double share, gp_Dir& out, gp_Vec& along) {
        double from, to;
        const Handle(Geom2d_Curve) curve = BRep_Tool::CurveOnSurface(edge, face, from, to);
        double first, last;
        const Handle(Geom_Curve) space = BRep_Tool::Curve(edge, first, last);
        if (curve.IsNull() || space.IsNull()) {
            return false;
        }
        gp_Pnt place;
        space->D1(first + share * (last - first), place, along);
        const gp_Pnt2d uv = curve->Value(from + share * (to - from));
        const BRepAdaptor_Surface surface(face, false);
        gp_Pnt point;
        gp_Vec du, dv;
        surface.D1(uv.X(), uv.Y(), point, du, dv);
        const gp_Vec cross = du.Crossed(dv);
        if (cross.Magnitude() < gp::Resolution()) {
            return false;
        }
        out = face.Orientation() == TopAbs_REVERSED ? gp_Dir(cross.Reversed()) : gp_Dir(cross);
        return true;
    }

    TopTools_IndexedDataMapOfShapeListOfShape around;
};

#endif
