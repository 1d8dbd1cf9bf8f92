#include "plant.h"
#include "faces.h"
#include "sound.h"
#include "trace.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Splitter.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <IntCurvesFace_Intersector.hxx>
#include <Precision.hxx>
#include <BRepBndLib.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepClass_FaceClassifier.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <Geom_BSplineCurve.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_DataMapOfShapeInteger.hxx>
#include <TopTools_ListIteratorOfListOfShape.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Circ.hxx>
#include <gp_Elips.hxx>
#include <gp_Pln.hxx>
#include <map>
#include <optional>
#include <set>
#include <vector>

namespace {

// What lies within `on` of a plane lies on it; what is farther than `clear` does not; in between nothing is told, a boolean is asked.
constexpr double on = 5e-8, clear = 1e-5;
constexpr size_t most_curved = 6;
constexpr double adding_up = 1e-9;

// A flat face's plane with its normal out of the material.
struct Flat {
    gp_Pnt at;
    gp_Dir out;

    double above(const gp_Pnt& p) const { return gp_Vec(at, p).Dot(gp_Vec(out)); }
};

struct Range {
    double low = INFINITY, high = -INFINITY;

    void add(double v) {
        low = std::min(low, v);
        high = std::max(high, v);
    }

    bool lies_on() const { return low > -on && high < on; }

    bool touches() const { return low < clear && high > -clear; }
};

Bnd_Box box_of(const TopoDS_Shape& shape, double more = 0) {
    Bnd_Box box;
    BRepBndLib::Add(shape, box, false);
    box.Enlarge(more);
    return box;
}

std::optional<Flat> flat(const TopoDS_Face& face) {
    const BRepAdaptor_Surface surface(face, false);
    if (surface.GetType() != GeomAbs_Plane) {
        return std::nullopt;
    }
    const gp_Ax3 axes = surface.Plane().Position();
    gp_Dir out = axes.XDirection().Crossed(axes.YDirection());
    if (face.Orientation() == TopAbs_REVERSED) {
        out.Reverse();
    }
    return Flat{axes.Location(), out};
}

// Surfaces of straight lines: what lies farthest along any direction lies on an edge.
bool ruled(const TopoDS_Face& face) {
    switch (BRepAdaptor_Surface(face, false).GetType()) {
        case GeomAbs_Plane:
        case GeomAbs_Cylinder:
        case GeomAbs_Cone:
        case GeomAbs_SurfaceOfExtrusion: return true;
        default: return false;
    }
}

// Where an edge lies above a plane; wider where its curve does not tell exactly, nothing where it does not tell at all.
std::optional<Range> range_of(const TopoDS_Edge& edge, const Flat& plane) {
    const BRepAdaptor_Curve curve(edge);
    Range range;
    const auto around = [&](const gp_Pnt& centre, double reach) {
        range.add(plane.above(centre) - reach);
        range.add(plane.above(centre) + reach);
    };
    switch (curve.GetType()) {
        case GeomAbs_Line:
            range.add(plane.above(curve.Value(curve.FirstParameter())));
            range.add(plane.above(curve.Value(curve.LastParameter())));
            return range;
        case GeomAbs_Circle: {
            const gp_Circ circle = curve.Circle();
            const double x = circle.XAxis().Direction().Dot(plane.out), y = circle.YAxis().Direction().Dot(plane.out);
            around(circle.Location(), circle.Radius() * std::sqrt(x * x + y * y));
            return range;
        }
        case GeomAbs_Ellipse: {
            const gp_Elips ellipse = curve.Ellipse();
            const double x = ellipse.MajorRadius() * ellipse.XAxis().Direction().Dot(plane.out), y = ellipse.MinorRadius() * ellipse.YAxis().Direction().Dot(plane.out);
            around(ellipse.Location(), std::sqrt(x * x + y * y));
            return range;
        }
        case GeomAbs_BSplineCurve: {
            const Handle(Geom_BSplineCurve) spline = curve.BSpline();
            for (int i = 1; i <= spline->NbPoles(); i++) {
                range.add(plane.above(spline->Pole(i)));
            }
            return range;
        }
        default: return std::nullopt;
    }
}

std::optional<Range> range_of_all(const TopoDS_Shape& shape, const Flat& plane) {
    Range all;
    for (TopExp_Explorer it(shape, TopAbs_EDGE); it.More(); it.Next()) {
        if (BRep_Tool::Degenerated(TopoDS::Edge(it.Current()))) {
            continue;
        }
        const std::optional<Range> range = range_of(TopoDS::Edge(it.Current()), plane);
        if (!range) {
            return std::nullopt;
        }
        all.add(range->low);
        all.add(range->high);
    }
    return all;
}

// How a flat piece lies in a flat face on the same plane.
enum class Lies { within, off, near_its_edge };

gp_Pnt a_vertex(const TopoDS_Shape& of) {
    return BRep_Tool::Pnt(TopoDS::Vertex(TopExp_Explorer(of, TopAbs_VERTEX).Current()));
}

TopAbs_State state(const TopoDS_Face& face, const gp_Pnt& place) { return BRepClass_FaceClassifier(face, place, clear).State(); }

// One of the body's flat faces, with the boxes of its edges.
class Ground {
public:
    Ground(const TopoDS_Face& face, const Flat& plane) : face(face), plane(plane) {
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
            edges.emplace_back(TopoDS::Edge(it.Current()), box_of(it.Current(), clear));
        }
    }

    Lies of(const TopoDS_Face& cap) const {
        const Bnd_Box about = box_of(cap, clear);
        for (const auto& [edge, box] : edges) {
            if (box.IsOut(about)) {
                continue;
            }
            for (TopExp_Explorer it(cap, TopAbs_EDGE); it.More(); it.Next()) {
                if (box.IsOut(box_of(it.Current()))) {
                    continue;
                }
                const BRepExtrema_DistShapeShape gap(edge, it.Current());
                if (!gap.IsDone() || gap.Value() < clear) {
                    return Lies::near_its_edge;
                }
            }
        }
        // No edges meet: an outline lies within the other, or they are apart.
        for (TopExp_Explorer wire(face, TopAbs_WIRE); wire.More(); wire.Next()) {
            const gp_Pnt place = a_vertex(wire.Current());
            if (!about.IsOut(place) && state(cap, place) != TopAbs_OUT) {
                return Lies::near_its_edge;
            }
        }
        const TopAbs_State is = state(face, a_vertex(cap));
        return is == TopAbs_IN ? Lies::within : is == TopAbs_OUT ? Lies::off : Lies::near_its_edge;
    }

    TopoDS_Face face;
    Flat plane;

private:
    std::vector<std::pair<TopoDS_Edge, Bnd_Box>> edges;
};

// Faces of a piece that lie on a plane; none where something else of it touches the plane near a face.
bool caps_on(const TopoDS_Shape& piece, const Flat& plane, const Bnd_Box& ground, std::vector<TopoDS_Face>& caps) {
    TopTools_MapOfShape of_caps;
    for (TopExp_Explorer it(piece, TopAbs_FACE); it.More(); it.Next()) {
        const TopoDS_Face face = TopoDS::Face(it.Current());
        const std::optional<Flat> own = flat(face);
        const std::optional<Range> range = own ? range_of_all(face, plane) : std::nullopt;
        if (range && range->lies_on() && std::abs(std::abs(own->out.Dot(plane.out)) - 1) < 1e-12) {
            caps.push_back(face);
            for (TopExp_Explorer edge(face, TopAbs_EDGE); edge.More(); edge.Next()) {
                of_caps.Add(edge.Current());
            }
            for (TopExp_Explorer vertex(face, TopAbs_VERTEX); vertex.More(); vertex.Next()) {
                of_caps.Add(vertex.Current());
            }
        }
    }
    for (TopExp_Explorer it(piece, TopAbs_EDGE); it.More(); it.Next()) {
        const TopoDS_Edge edge = TopoDS::Edge(it.Current());
        if (of_caps.Contains(edge) || BRep_Tool::Degenerated(edge) || box_of(edge, clear).IsOut(ground)) {
            continue;
        }
        const std::optional<Range> range = range_of(edge, plane);
        if (!range) {
            return false;
        }
        if (!range->touches()) {
            continue;
        }
        // A straight edge may come to the plane at one end, at a corner of a cap.
        TopoDS_Vertex ends[2];
        TopExp::Vertices(edge, ends[0], ends[1]);
        const bool straight = BRepAdaptor_Curve(edge).GetType() == GeomAbs_Line;
        const bool leaves = std::max(std::abs(range->low), std::abs(range->high)) > clear;
        for (const TopoDS_Vertex& end : ends) {
            if (!straight || !leaves || (std::abs(plane.above(BRep_Tool::Pnt(end))) < clear && !of_caps.Contains(end))) {
                return false;
            }
        }
    }
    return true;
}

// A piece of a tool, and from which of its faces each face of it comes.
struct Piece {
    TopoDS_Shape shape;
    TopTools_DataMapOfShapeInteger from;
};

std::vector<Piece> divided(const Piece& piece, const Flat& plane) {
    const Bnd_Box box = box_of(piece.shape);
    const double reach = 2 * std::sqrt(box.SquareExtent());
    const gp_Pnt low = box.CornerMin(), high = box.CornerMax();
    const gp_Pnt middle((low.XYZ() + high.XYZ()) / 2);
    const gp_Pln surface(middle.Translated(gp_Vec(plane.out) * -plane.above(middle)), plane.out);
    TopTools_ListOfShape knives;
    knives.Append(BRepBuilderAPI_MakeFace(surface, -reach, reach, -reach, reach).Face());
    BRepAlgoAPI_Splitter splitter;
    build_between(splitter, piece.shape, knives);
    std::vector<Piece> parts;
    if (splitter.HasErrors()) {
        return parts;
    }
    TopTools_DataMapOfShapeInteger from;
    for (TopExp_Explorer it(piece.shape, TopAbs_FACE); it.More(); it.Next()) {
        int index = -1;
        piece.from.Find(it.Current(), index);
        const TopTools_ListOfShape& modified = splitter.Modified(it.Current());
        for (TopTools_ListIteratorOfListOfShape m(modified); m.More(); m.Next()) {
            from.Bind(m.Value(), index);
        }
        if (modified.IsEmpty() && !splitter.IsDeleted(it.Current())) {
            from.Bind(it.Current(), index);
        }
    }
    for (TopExp_Explorer it(splitter.Shape(), TopAbs_SOLID); it.More(); it.Next()) {
        parts.push_back({it.Current(), from});
    }
    return parts;
}

bool one_plain_solid(const TopoDS_Shape& shape) {
    int solids = 0, shells = 0;
    for (TopExp_Explorer it(shape, TopAbs_SOLID); it.More(); it.Next()) {
        solids++;
    }
    for (TopExp_Explorer it(shape, TopAbs_SHELL); it.More(); it.Next()) {
        shells++;
    }
    return solids == 1 && shells == 1;
}

// Whether a tool is of a kind that can be planted at all.
bool plantable(const rg_shape* tool) {
    bool all = one_plain_solid(tool->shape);
    for (int i = 1; all && i <= tool->faces.Extent(); i++) {
        all = ruled(TopoDS::Face(tool->faces(i)));
    }
    return all;
}

// Whether the axis of a tool goes through one of some faces within the tool: seen at once, where their distance takes long to find.
bool pierced(const rg_shape* tool, const std::vector<TopoDS_Face>& faces) {
    std::optional<gp_Ax1> axis;
    for (int i = 1; i <= tool->faces.Extent() && !axis; i++) {
        const BRepAdaptor_Surface surface(TopoDS::Face(tool->faces(i)), false);
        if (surface.GetType() == GeomAbs_Cylinder) {
            axis = surface.Cylinder().Axis();
        } else if (surface.GetType() == GeomAbs_Cone) {
            axis = surface.Cone().Axis();
        }
    }
    if (!axis || faces.empty()) {
        return false;
    }
    BRepClass3d_SolidClassifier within(tool->shape);
    for (const TopoDS_Face& face : faces) {
        IntCurvesFace_Intersector meets(face, clear);
        meets.Perform(gp_Lin(*axis), -Precision::Infinite(), Precision::Infinite());
        for (int k = 1; meets.IsDone() && k <= meets.NbPnt(); k++) {
            within.Perform(meets.Pnt(k), clear);
            if (within.State() == TopAbs_IN) {
                return true;
            }
        }
    }
    return false;
}

// What is put on a body: pieces, and the outlines that they leave in its faces.
class Planted {
public:
    Planted(int32_t kind, const rg_shape* body) : kind(kind), body(body) {
        for (int i = 1; i <= body->faces.Extent(); i++) {
            boxes.push_back(box_of(body->faces(i)));
        }
    }

    bool add(const rg_shape* tool, int32_t input) {
        const Bnd_Box about = box_of(tool->shape, clear);
        for (const Bnd_Box& other : taken) {
            if (!other.IsOut(about)) {
                return false;
            }
        }
        taken.push_back(about);
        std::set<int> near;
        std::vector<TopoDS_Face> curved;
        for (int i = 0; i < body->faces.Extent(); i++) {
            if (boxes[i].IsOut(about)) {
                continue;
            }
            const TopoDS_Face face = TopoDS::Face(body->faces(i + 1));
            const std::optional<Flat> plane = flat(face);
            const std::optional<Range> range = plane ? range_of_all(tool->shape, *plane) : std::nullopt;
            if (plane && !range) {
                return false;
            }
            if (range && !range->touches()) {
                continue;
            }
            if (range) {
                if (grounds.find(i) == grounds.end()) {
                    grounds.emplace(i, Ground(face, *plane));
                }
                near.insert(i);
                continue;
            }
            curved.push_back(face);
            if (curved.size() > most_curved) {
                return false;
            }
        }
        if (near.empty() || pierced(tool, curved)) {
            return false;
        }
        Piece whole{tool->shape, {}};
        for (int i = 1; i <= tool->faces.Extent(); i++) {
            whole.from.Bind(tool->faces(i), i - 1);
        }
        std::vector<Piece> pieces{whole};
        for (const int i : near) {
            if (!cut_by(i, pieces)) {
                return false;
            }
        }
        if (!std::all_of(pieces.begin(), pieces.end(), [&](const Piece& piece) { return placed(piece, near, input); })) {
            return false;
        }
        return std::all_of(curved.begin(), curved.end(), [&](const TopoDS_Face& face) {
            const BRepExtrema_DistShapeShape gap(face, tool->shape);
            return gap.IsDone() && gap.Value() >= clear;
        });
    }

    bool finish(rg_result** result, const rg_shape* const* tools, int32_t count) {
        if (kept.empty()) {
            return kind == 0 && unchanged(result);
        }
        BRep_Builder builder;
        std::map<int, TopoDS_Face> changed;
        double before = 0, after = 0, wanted = 0;
        for (const auto& [index, wires] : outlines) {
            const TopoDS_Face face = TopoDS::Face(body->faces(index + 1));
            const TopoDS_Face next = with_outlines(face, wires);
            before += integrals_of(*body, index).volume;
            after += integrals_of(next).volume;
            changed[index] = next;
        }
        TopoDS_Shell shell;
        builder.MakeShell(shell);
        for (int i = 0; i < body->faces.Extent(); i++) {
            const auto found = changed.find(i);
            builder.Add(shell, found == changed.end() ? body->faces(i + 1) : found->second);
        }
        double all = 0;
        for (const Sides& sides : kept) {
            for (const auto& [side, index] : sides.faces) {
                builder.Add(shell, side);
                after += integrals_of(TopoDS::Face(side)).volume;
            }
            wanted += kind == 0 ? sides.volume : -sides.volume;
            all += std::abs(sides.volume);
        }
        // The faces that came and went must make up the volume of the pieces, to the last digits.
        if (!(std::abs(after - before - wanted) <= adding_up * (std::abs(before) + std::abs(after) + all))) {
            return false;
        }
        shell.Closed(true);
        TopoDS_Solid solid;
        builder.MakeSolid(solid);
        builder.Add(solid, shell);
        Origins origins(solid);
        origins.know(body);
        for (const auto& [index, next] : changed) {
            origins.know(next);
        }
        for (int32_t i = 0; i < count; i++) {
            origins.know(tools[i]);
        }
        for (int i = 0; i < body->faces.Extent(); i++) {
            const auto found = changed.find(i);
            origins.note(found == changed.end() ? body->faces(i + 1) : found->second, 0, 0, i);
        }
        for (const Sides& sides : kept) {
            for (const auto& [side, index] : sides.faces) {
                origins.note(side, sides.input, 0, index);
            }
        }
        return origins.release(result) == 0;
    }

private:
    // A union with what lies in the material already.
    bool unchanged(rg_result** result) const {
        Origins same(body->shape);
        for (int i = 0; i < body->faces.Extent(); i++) {
            same.note(body->faces(i + 1), 0, 0, i);
        }
        return same.release_unchecked(result) == 0;
    }

    struct Sides {
        int32_t input;
        double volume;
        std::vector<std::pair<TopoDS_Shape, int>> faces;
    };

    // Divides the pieces that go through one of the body's faces.
    bool cut_by(int index, std::vector<Piece>& pieces) {
        const Ground& ground = grounds.at(index);
        std::vector<Piece> next;
        for (const Piece& piece : pieces) {
            const std::optional<Range> range = range_of_all(piece.shape, ground.plane);
            if (!range) {
                return false;
            }
            if (!(range->low < -on && range->high > on)) {
                next.push_back(piece);
                continue;
            }
            if (range->low > -clear || range->high < clear) {
                return false;
            }
            const std::vector<Piece> parts = divided(piece, ground.plane);
            int within = 0, off = 0;
            for (const Piece& part : parts) {
                std::vector<TopoDS_Face> caps;
                if (!caps_on(part.shape, ground.plane, boxes[index], caps)) {
                    return false;
                }
                for (const TopoDS_Face& cap : caps) {
                    switch (ground.of(cap)) {
                        case Lies::within: within++; break;
                        case Lies::off: off++; break;
                        default: return false;
                    }
                }
            }
            if (within > 0 && off > 0) {
                return false;
            }
            if (within > 0) {
                next.insert(next.end(), parts.begin(), parts.end());
            } else if (off > 0) {
                next.push_back(piece);
            } else {
                return false;
            }
        }
        pieces = next;
        return true;
    }

    // Whether a piece lies outside the body or within it, told by the faces that it stands on; it is kept or dropped.
    bool placed(const Piece& piece, const std::set<int>& near, int32_t input) {
        std::vector<std::pair<int, TopoDS_Face>> standing;
        TopTools_MapOfShape caps_standing;
        bool outside = false, inside = false;
        for (const int index : near) {
            const Ground& ground = grounds.at(index);
            const std::optional<Range> range = range_of_all(piece.shape, ground.plane);
            if (!range) {
                return false;
            }
            if (!range->touches()) {
                continue;
            }
            if (range->low < -clear && range->high > clear) {
                // It goes through the plane, but not through the face: that was looked at.
                continue;
            }
            std::vector<TopoDS_Face> caps;
            if (!caps_on(piece.shape, ground.plane, boxes[index], caps)) {
                return false;
            }
            for (const TopoDS_Face& cap : caps) {
                const Lies lies = ground.of(cap);
                if (lies == Lies::near_its_edge) {
                    return false;
                }
                if (lies == Lies::off) {
                    continue;
                }
                TopExp_Explorer wires(cap, TopAbs_WIRE);
                wires.Next();
                if (wires.More() || !caps_standing.Add(cap)) {
                    return false;
                }
                (flat(cap)->out.Dot(ground.plane.out) < 0 ? outside : inside) = true;
                standing.emplace_back(index, cap);
            }
        }
        if (outside == inside) {
            return false;
        }
        if (outside != (kind == 0)) {
            return true;
        }
        Sides sides{input, volume_of(piece.shape), {}};
        if (!(sides.volume > 0) || !one_plain_solid(piece.shape)) {
            return false;
        }
        for (const auto& [index, cap] : standing) {
            const TopoDS_Shape wire = TopExp_Explorer(cap, TopAbs_WIRE).Current();
            outlines[index].push_back(kind == 0 ? wire : wire.Reversed());
        }
        for (TopExp_Explorer it(piece.shape, TopAbs_FACE); it.More(); it.Next()) {
            if (caps_standing.Contains(it.Current())) {
                continue;
            }
            int from = -1;
            if (!piece.from.Find(it.Current(), from) || from < 0) {
                return false;
            }
            sides.faces.emplace_back(kind == 0 ? it.Current() : it.Current().Reversed(), from);
        }
        kept.push_back(sides);
        return true;
    }

    int32_t kind;
    const rg_shape* body;
    std::vector<Bnd_Box> boxes, taken;
    std::map<int, Ground> grounds;
    std::map<int, std::vector<TopoDS_Shape>> outlines;
    std::vector<Sides> kept;
};

}  // namespace

bool plant(int32_t kind, const rg_shape* body, const rg_shape* const* tools, int32_t count, rg_result** result) {
    if ((kind != 0 && kind != 1) || !one_plain_solid(body->shape) || !std::all_of(tools, tools + count, plantable)) {
        return false;
    }
    Planted planted(kind, body);
    for (int32_t i = 0; i < count; i++) {
        if (!planted.add(tools[i], i + 1)) {
            return false;
        }
    }
    return planted.finish(result, tools, count);
}
