#include "sound.h"
#include "faces.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepCheck_ListIteratorOfListOfStatus.hxx>
#include <BRepCheck_Result.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <OSD_Parallel.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Iterator.hxx>
#include <TopoDS_Vertex.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <atomic>
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
bool sound_by_library(const TopoDS_Face& face) {
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

// An outline of a face, and where it is.
struct Outline {
    TopoDS_Wire wire;
    Bnd_Box box;
};

std::vector<Outline> outlines_of(const TopoDS_Face& face) {
    std::vector<Outline> outlines;
    for (TopoDS_Iterator it(face); it.More(); it.Next()) {
        if (it.Value().ShapeType() == TopAbs_WIRE) {
            Outline next{TopoDS::Wire(it.Value()), {}};
            BRepBndLib::Add(next.wire, next.box, false);
            outlines.push_back(next);
        }
    }
    return outlines;
}

// Those that hang together with one by their boxes, the first outline aside; they count as taken.
std::vector<size_t> near_each_other(const std::vector<Outline>& outlines, size_t first, std::vector<bool>& taken) {
    std::vector<size_t> near{first};
    taken[first] = true;
    for (size_t k = 0; k < near.size(); k++) {
        for (size_t other = 1; other < outlines.size(); other++) {
            if (!taken[other] && !outlines[near[k]].box.IsOut(outlines[other].box)) {
                taken[other] = true;
                near.push_back(other);
            }
        }
    }
    return near;
}

// The library compares each outline of a face with each other. On a plane, outlines whose boxes are apart neither cross nor lie
// within one another, so it gets them a few at a time, those near each other together, and always with the largest one, which is
// to hold them all.
bool sound_face(const TopoDS_Face& face) {
    constexpr size_t few = 5;
    std::vector<Outline> outlines;
    if (BRepAdaptor_Surface(face, false).GetType() == GeomAbs_Plane) {
        outlines = outlines_of(face);
    }
    if (outlines.size() <= few || std::any_of(outlines.begin(), outlines.end(), [](const Outline& o) { return o.box.IsVoid(); })) {
        return sound_by_library(face);
    }
    const auto smaller = [](const Outline& a, const Outline& b) { return a.box.SquareExtent() < b.box.SquareExtent(); };
    std::iter_swap(outlines.begin(), std::max_element(outlines.begin(), outlines.end(), smaller));
    std::vector<bool> taken(outlines.size(), false);
    BRep_Builder builder;
    TopoDS_Face some;
    size_t held = 0;
    for (size_t first = 1; first < outlines.size(); first++) {
        if (!taken[first]) {
            if (held == 0) {
                some = TopoDS::Face(face.EmptyCopied());
                builder.Add(some, outlines[0].wire);
            }
            for (const size_t next : near_each_other(outlines, first, taken)) {
                builder.Add(some, outlines[next].wire);
                held++;
            }
        }
        if (held >= few || (held > 0 && first + 1 == outlines.size())) {
            if (!sound_by_library(some)) {
                return false;
            }
            held = 0;
        }
    }
    return true;
}

// The library's own check looks at faces side by side as well: it only reads them.
bool all_sound(const std::vector<TopoDS_Face>& faces) {
    constexpr size_t worth_threads = 64;
    std::atomic<bool> sound{true};
    OSD_Parallel::For(
        0, static_cast<int>(faces.size()),
        [&faces, &sound](int i) {
            if (sound && !sound_face(faces[i])) {
                sound = false;
            }
        },
        faces.size() < worth_threads);
    return sound;
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

Flaw unsound(const rg_shape& shape, const std::function<bool(const TopoDS_Shape&)>& known) {
    bool any = false;
    for (TopExp_Explorer solid(shape.shape, TopAbs_SOLID); solid.More(); solid.Next()) {
        any = true;
        if (!closed(solid.Current(), shape)) {
            return {rg_failure_unsound, "it would be open, or touch itself, along an edge"};
        }
    }
    if (!any) {
        return {rg_failure_nothing_left, "nothing is left of the body"};
    }
    std::vector<TopoDS_Face> faces;
    for (int i = 1; i <= shape.faces.Extent(); i++) {
        if (!known(shape.faces(i))) {
            faces.push_back(TopoDS::Face(shape.faces(i)));
        }
    }
    if (!all_sound(faces)) {
        return {rg_failure_unsound, "a face would cross itself or miss its edges"};
    }
    Bnd_Box box;
    BRepBndLib::AddClose(shape.shape, box);
    if (widest_tolerance(shape) > widest_gap * std::sqrt(box.IsVoid() ? 0 : box.SquareExtent())) {
        return {rg_failure_unsound, "its faces would not meet"};
    }
    for (TopExp_Explorer solid(shape.shape, TopAbs_SOLID); solid.More(); solid.Next()) {
        const double volume = volume_of(shape, solid.Current());
        if (!std::isfinite(volume) || volume <= 0) {
            return {rg_failure_unsound, "it would be turned inside out"};
        }
    }
    return {};
}
