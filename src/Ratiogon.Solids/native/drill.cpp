// Holes put straight into a body: walls into its shell, rims into its planar faces. No boolean.
#include "faces.h"
#include "trace.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRep_Builder.hxx>
#include <Bnd_Box.hxx>
#include <Precision.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <gp_Circ.hxx>
#include <gp_Lin.hxx>
#include <gp_Pln.hxx>
#include <algorithm>
#include <map>

namespace {

constexpr double clearance = 1e-5;

// The circle that bounds a cap of a tool.
struct Rim {
    TopoDS_Wire wire;
    gp_Pnt centre;
    double radius;
    gp_Dir axis;
};

bool find_rim(const rg_shape* tool, int32_t cap, Rim& rim) {
    const TopoDS_Face face = TopoDS::Face(tool->faces(cap + 1));
    TopExp_Explorer wires(face, TopAbs_WIRE);
    if (!wires.More()) {
        return false;
    }
    rim.wire = TopoDS::Wire(wires.Current());
    TopExp_Explorer edges(rim.wire, TopAbs_EDGE);
    const BRepAdaptor_Curve curve(TopoDS::Edge(edges.Current()));
    edges.Next();
    if (edges.More() || curve.GetType() != GeomAbs_Circle) {
        return false;
    }
    rim.centre = curve.Circle().Location();
    rim.radius = curve.Circle().Radius();
    rim.axis = curve.Circle().Axis().Direction();
    return true;
}

// Whether all of a rim lies on a flat face's plane, within the tolerance of its edge.
bool lies_on(const Rim& rim, const TopoDS_Face& face) {
    const BRepAdaptor_Surface surface(face, false);
    if (surface.GetType() != GeomAbs_Plane) {
        return false;
    }
    const double lean = gp_Vec(surface.Plane().Axis().Direction()).Crossed(gp_Vec(rim.axis)).Magnitude();
    return surface.Plane().Distance(rim.centre) + rim.radius * lean < Precision::Confusion();
}

// How far a place in a face's plane is from an edge of the face.
double distance(const gp_Pnt& p, const TopoDS_Edge& edge) {
    const BRepAdaptor_Curve curve(edge);
    if (curve.GetType() == GeomAbs_Line) {
        const gp_Pnt a = curve.Value(curve.FirstParameter()), b = curve.Value(curve.LastParameter());
        const gp_Vec ab(a, b);
        const double t = std::clamp(gp_Vec(a, p).Dot(ab) / ab.SquareMagnitude(), 0.0, 1.0);
        return p.Distance(a.Translated(ab * t));
    }
    if (curve.GetType() == GeomAbs_Circle) {
        // Of the whole circle: never more than of the arc.
        return std::abs(p.Distance(curve.Circle().Location()) - curve.Circle().Radius());
    }
    const BRepExtrema_DistShapeShape gap(BRepBuilderAPI_MakeVertex(p).Vertex(), edge);
    return gap.IsDone() ? gap.Value() : 0;
}

}  // namespace

RG_API int32_t rg_drill(const rg_shape* body, const rg_shape* const* tools, const int32_t* four_each, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        TopExp_Explorer solids(body->shape, TopAbs_SOLID);
        const TopoDS_Solid solid = solids.More() ? TopoDS::Solid(solids.Current()) : TopoDS_Solid();
        TopExp_Explorer shells(body->shape, TopAbs_SHELL);
        if (shells.More()) {
            shells.Next();
        }
        if (solid.IsNull() || shells.More()) {
            return rg_fail("not one plain solid");
        }
        std::vector<Bnd_Box> boxes(body->faces.Extent());
        for (int i = 0; i < body->faces.Extent(); i++) {
            BRepBndLib::Add(body->faces(i + 1), boxes[i], false);
        }
        std::map<int32_t, std::vector<Rim>> rims;
        std::vector<Bnd_Box> taken;
        for (int32_t t = 0; t < count; t++) {
            const int32_t* f = four_each + 4 * t;
            Bnd_Box box;
            BRepBndLib::Add(tools[t]->shape, box, false);
            box.Enlarge(clearance);
            for (size_t i = 0; i < boxes.size(); i++) {
                if (static_cast<int32_t>(i) != f[0] && static_cast<int32_t>(i) != f[1] && !boxes[i].IsOut(box)) {
                    return rg_fail("a hole comes near another face");
                }
            }
            for (const Bnd_Box& other : taken) {
                if (!other.IsOut(box)) {
                    return rg_fail("two holes come near each other");
                }
            }
            taken.push_back(box);
            for (int side = 0; side < 2; side++) {
                if (f[side] < 0) {
                    continue;
                }
                Rim rim;
                if (!find_rim(tools[t], f[2 + side], rim)) {
                    return rg_fail("a cap is not round");
                }
                rims[f[side]].push_back(rim);
            }
        }
        BRep_Builder builder;
        std::map<int32_t, TopoDS_Face> changed;
        for (const auto& [index, list] : rims) {
            const TopoDS_Face face = TopoDS::Face(body->faces(index + 1));
            for (const Rim& rim : list) {
                if (!lies_on(rim, face)) {
                    return rg_fail("a rim does not lie on its face");
                }
            }
            for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
                for (const Rim& rim : list) {
                    if (distance(rim.centre, TopoDS::Edge(it.Current())) < rim.radius + clearance) {
                        return rg_fail("a hole comes near an edge");
                    }
                }
            }
            // A rim runs the other way round than the cap that it was taken from.
            std::vector<TopoDS_Shape> wires;
            for (const Rim& rim : list) {
                wires.push_back(rim.wire.Reversed());
            }
            changed[index] = with_outlines(face, wires);
        }
        TopoDS_Shell shell;
        builder.MakeShell(shell);
        for (int i = 1; i <= body->faces.Extent(); i++) {
            const auto found = changed.find(i - 1);
            builder.Add(shell, found == changed.end() ? body->faces(i) : found->second);
        }
        for (int32_t t = 0; t < count; t++) {
            const int32_t* f = four_each + 4 * t;
            for (int i = 1; i <= tools[t]->faces.Extent(); i++) {
                if (i - 1 != f[2] && i - 1 != f[3]) {
                    builder.Add(shell, tools[t]->faces(i).Reversed());
                }
            }
        }
        shell.Closed(true);
        TopoDS_Solid drilled;
        builder.MakeSolid(drilled);
        builder.Add(drilled, shell);
        Origins origins(drilled);
        origins.know(body);
        for (const auto& [index, next] : changed) {
            origins.know(next);
        }
        for (int i = 1; i <= body->faces.Extent(); i++) {
            const auto found = changed.find(i - 1);
            origins.note(found == changed.end() ? body->faces(i) : found->second, 0, 0, i - 1);
        }
        for (int32_t t = 0; t < count; t++) {
            for (int i = 1; i <= tools[t]->faces.Extent(); i++) {
                origins.note(tools[t]->faces(i), t + 1, 0, i - 1);
            }
        }
        return origins.release(result);
    });
}
