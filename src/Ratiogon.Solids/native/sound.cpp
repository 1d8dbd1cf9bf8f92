#include "sound.h"
#include "faces.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepCheck_ListIteratorOfListOfStatus.hxx>
#include <BRepCheck_Result.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Vertex.hxx>
#include <algorithm>
#include <cmath>
#include <vector>

namespace {

// The widest gap that a tolerance may bridge, as a share of the size of the body.
constexpr double widest_gap = 1e-3;

// How often a solid's faces use an edge forwards and backwards.
struct Uses {
    int forward = 0, backward = 0;
};

bool closed(const TopoDS_Shape& solid, const rg_shape& shape) {
    std::vector<Uses> uses(shape.edges.Extent() + 1);
    for (TopExp_Explorer face(solid, TopAbs_FACE); face.More(); face.Next()) {
        for (TopExp_Explorer it(face.Current(), TopAbs_EDGE); it.More(); it.Next()) {
            const TopoDS_Edge& edge = TopoDS::Edge(it.Current());
            if (BRep_Tool::Degenerated(edge) || (edge.Orientation() != TopAbs_FORWARD && edge.Orientation() != TopAbs_REVERSED)) {
                continue;
            }
            Uses& of = uses[shape.edges.FindIndex(edge)];
            (edge.Orientation() == TopAbs_FORWARD ? of.forward : of.backward)++;
        }
    }
    return std::all_of(uses.begin(), uses.end(), [](const Uses& u) { return u.forward == u.backward && u.forward <= 1; });
}

// Whether nothing is said of a shape, or nothing but that.
bool only(const BRepCheck_Analyzer& check, const TopoDS_Shape& shape, BRepCheck_Status that) {
    const auto all_of = [that](const BRepCheck_ListOfStatus& list) {
        return std::all_of(list.begin(), list.end(), [that](BRepCheck_Status s) { return s == BRepCheck_NoError || s == that; });
    };
    const Handle(BRepCheck_Result)& result = check.Result(shape);
    bool good = all_of(result->Status());
    for (result->InitContextIterator(); good && result->MoreShapeInContext(); result->NextShapeInContext()) {
        good = all_of(result->StatusOnShape());
    }
    return good;
}

// By the library's own check. Which side of its outline a face of a surface lies that may close in both directions is more
// than that check can tell; the volumes can.
bool sound_face(const TopoDS_Face& face) {
    const BRepCheck_Analyzer check(face);
    if (check.IsValid()) {
        return true;
    }
    bool good = delicate(face) && only(check, face, BRepCheck_BadOrientationOfSubshape);
    for (const TopAbs_ShapeEnum kind : {TopAbs_WIRE, TopAbs_EDGE, TopAbs_VERTEX}) {
        for (TopExp_Explorer it(face, kind); good && it.More(); it.Next()) {
            good = only(check, it.Current(), BRepCheck_NoError);
        }
    }
    return good;
}

double widest_tolerance(const rg_shape& shape) {
    double widest = 0;
    for (int i = 1; i <= shape.faces.Extent(); i++) {
        widest = std::max(widest, BRep_Tool::Tolerance(TopoDS::Face(shape.faces(i))));
    }
    for (int i = 1; i <= shape.edges.Extent(); i++) {
        widest = std::max(widest, BRep_Tool::Tolerance(TopoDS::Edge(shape.edges(i))));
    }
    for (int i = 1; i <= shape.vertices.Extent(); i++) {
        widest = std::max(widest, BRep_Tool::Tolerance(TopoDS::Vertex(shape.vertices(i))));
    }
    return widest;
}

}  // namespace

bool delicate(const TopoDS_Face& face) { return BRepAdaptor_Surface(face, false).GetType() > GeomAbs_Cone; }

double volume_of(const TopoDS_Shape& shape) {
    double volume = 0;
    for (TopExp_Explorer it(shape, TopAbs_FACE); it.More(); it.Next()) {
        volume += integrals_of(TopoDS::Face(it.Current())).volume;
    }
    return volume;
}

std::string unsound(const rg_shape& shape, const std::function<bool(const TopoDS_Shape&)>& known) {
    bool any = false;
    for (TopExp_Explorer solid(shape.shape, TopAbs_SOLID); solid.More(); solid.Next()) {
        any = true;
        if (!closed(solid.Current(), shape)) {
            return "unsound: it would be open, or touch itself, along an edge";
        }
    }
    if (!any) {
        return "nothing is left of the body";
    }
    for (int i = 1; i <= shape.faces.Extent(); i++) {
        if (!known(shape.faces(i)) && !sound_face(TopoDS::Face(shape.faces(i)))) {
            return "unsound: a face would cross itself or miss its edges";
        }
    }
    Bnd_Box box;
    BRepBndLib::AddClose(shape.shape, box);
    if (widest_tolerance(shape) > widest_gap * std::sqrt(box.IsVoid() ? 0 : box.SquareExtent())) {
        return "unsound: its faces would not meet";
    }
    const double volume = volume_of(shape);
    return std::isfinite(volume) && volume > 0 ? "" : "unsound: it would be turned inside out";
}
