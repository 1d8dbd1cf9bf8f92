#include "wall.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRepTools.hxx>
#include <BRepTopAdaptor_FClass2d.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <ElSLib.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Lin.hxx>
#include <gp_Pln.hxx>
#include <gp_Sphere.hxx>
#include <gp_Torus.hxx>
#include <algorithm>
#include <cmath>

namespace {

constexpr int along_edge = 8, across_face = 7;
constexpr double share = 1e-5;
// In walls' thicknesses: so near an open face, a place may be near a rim.
constexpr double beside_mouth = 2;

// Places on the edges of a face, and within it where it is curved.
std::vector<gp_Pnt> places(const TopoDS_Face& face) {
    std::vector<gp_Pnt> all;
    for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
        const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
        all.push_back(BRep_Tool::Pnt(TopExp::FirstVertex(edge)));
        all.push_back(BRep_Tool::Pnt(TopExp::LastVertex(edge)));
        if (BRep_Tool::Degenerated(edge)) {
            continue;
        }
        const BRepAdaptor_Curve curve(edge);
        const int between = curve.GetType() == GeomAbs_Line ? 2 : along_edge;
        for (int i = 1; i < between; i++) {
            all.push_back(curve.Value(curve.FirstParameter() + i * (curve.LastParameter() - curve.FirstParameter()) / between));
        }
    }
    const BRepAdaptor_Surface surface(face, false);
    if (surface.GetType() == GeomAbs_Plane) {
        return all;
    }
    double u1, u2, v1, v2;
    BRepTools::UVBounds(face, u1, u2, v1, v2);
    const BRepTopAdaptor_FClass2d within(face, 1e-9);
    for (int i = 0; i < across_face; i++) {
        for (int k = 0; k < across_face; k++) {
            const gp_Pnt2d uv(u1 + (i + 0.5) * (u2 - u1) / across_face, v1 + (k + 0.5) * (v2 - v1) / across_face);
            if (within.Perform(uv) == TopAbs_IN) {
                all.push_back(surface.Value(uv.X(), uv.Y()));
            }
        }
    }
    return all;
}

// Faces to measure to, each with the distance at least to all of its surface where that is known by a formula.
class Target {
public:
    explicit Target(const TopoDS_Face& face) : face(face), surface(face, false) { BRepBndLib::AddClose(face, box); }

    bool nearer(const gp_Pnt& place, double than) const {
        Bnd_Box at;
        at.Set(place);
        if (box.Distance(at) >= than || at_least(place) >= than) {
            return false;
        }
        const BRepExtrema_DistShapeShape between(BRepBuilderAPI_MakeVertex(place).Vertex(), face);
        return between.IsDone() && between.Value() < than;
    }

    double distance(const gp_Pnt& place) const {
        const BRepExtrema_DistShapeShape between(BRepBuilderAPI_MakeVertex(place).Vertex(), face);
        return between.IsDone() ? between.Value() : 0;
    }

private:
    double at_least(const gp_Pnt& p) const {
        switch (surface.GetType()) {
            case GeomAbs_Plane: return surface.Plane().Distance(p);
            case GeomAbs_Cylinder: return std::abs(gp_Lin(surface.Cylinder().Axis()).Distance(p) - surface.Cylinder().Radius());
            case GeomAbs_Sphere: return std::abs(surface.Sphere().Location().Distance(p) - surface.Sphere().Radius());
            case GeomAbs_Cone: {
                const gp_Cone cone = surface.Cone();
                const double off = gp_Lin(cone.Axis()).Distance(p), along = gp_Vec(cone.Apex(), p).Dot(gp_Vec(cone.Axis().Direction()));
                return std::abs(off * std::cos(cone.SemiAngle()) - std::abs(along) * std::abs(std::sin(cone.SemiAngle())));
            }
            case GeomAbs_Torus: {
                const gp_Torus torus = surface.Torus();
                const double off = gp_Lin(torus.Axis()).Distance(p), along = gp_Vec(torus.Location(), p).Dot(gp_Vec(torus.Axis().Direction()));
                return std::abs(std::hypot(off - torus.MajorRadius(), along) - torus.MinorRadius());
            }
            default: return 0;
        }
    }

    TopoDS_Face face;
    BRepAdaptor_Surface surface;
    Bnd_Box box;
};

}  // namespace

bool thick_everywhere(const rg_shape& body, const std::vector<bool>& open, const Behind& other_side, double thickness) {
    BRep_Builder builder;
    TopoDS_Compound mouths;
    builder.MakeCompound(mouths);
    bool any = false;
    std::vector<Target> walls, insides;
    std::vector<gp_Pnt> outside, inside;
    for (int i = 1; i <= body.faces.Extent(); i++) {
        const TopoDS_Face face = TopoDS::Face(body.faces(i));
        if (!open[i - 1]) {
            walls.emplace_back(face);
            const std::vector<gp_Pnt> on = places(face);
            outside.insert(outside.end(), on.begin(), on.end());
            continue;
        }
        for (TopExp_Explorer edge(face, TopAbs_EDGE); edge.More(); edge.Next()) {
            if (!BRep_Tool::Degenerated(TopoDS::Edge(edge.Current()))) {
                builder.Add(mouths, edge.Current());
                any = true;
            }
        }
    }
    for (const auto& [face, of] : other_side) {
        insides.emplace_back(TopoDS::Face(face));
        const std::vector<gp_Pnt> on = places(TopoDS::Face(face));
        inside.insert(inside.end(), on.begin(), on.end());
    }
    const double least = thickness * (1 - share);
    const auto all_far = [&](const std::vector<gp_Pnt>& from, const std::vector<Target>& to, bool to_walls) {
        return std::all_of(from.begin(), from.end(), [&](const gp_Pnt& place) {
            return std::none_of(to.begin(), to.end(), [&](const Target& target) {
                if (!target.nearer(place, least)) {
                    return false;
                }
                if (!any) {
                    return true;
                }
                // From the mouth on, the wall has a rim.
                const BRepExtrema_DistShapeShape mouth(BRepBuilderAPI_MakeVertex(place).Vertex(), mouths);
                return !mouth.IsDone() || mouth.Value() > (to_walls ? target.distance(place) * (1 + share) : beside_mouth * thickness);
            });
        });
    };
    return all_far(inside, walls, true) && all_far(outside, insides, false);
}
