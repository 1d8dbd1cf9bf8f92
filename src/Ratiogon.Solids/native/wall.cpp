// A wall inwards of one thickness, made face by face: a slab behind every face that keeps its wall, a wedge behind every
// edge between two of them that lies in. What of the body is left over is the space inside. Slower than the library's way,
// but it does not mind when faces of the inside vanish or the space falls into pieces.
#include "faces.h"
#include "meeting.h"
#include "sound.h"
#include "trace.h"
#include "wall.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_Copy.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepLib.hxx>
#include <BRepOffset_MakeSimpleOffset.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <BRepTools.hxx>
#include <gp_Ax1.hxx>
#include <gp_Circ.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Lin.hxx>
#include <gp_Pln.hxx>
#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <optional>
#include <stdexcept>

namespace {

constexpr double same = 1e-7, sharpest = 0.05, longest_lip = 4, adding_up = 1e-6;

// A piece of the wall, and which of its faces lie on the inside of which face of the body, or stand on which edge of it.
struct Piece {
    TopoDS_Shape shape;
    Behind inner, rims;
};

[[noreturn]] void cannot(const char* why) { throw std::runtime_error(why); }

// A polygon pushed or turned, and the face that each of its sides made (null where a side lies on the axis or was cut off).
struct Along {
    TopoDS_Shape shape;
    std::vector<TopoDS_Shape> sides;
};

template <typename Sweep>
Along sides(Sweep& sweep, const TopoDS_Wire& polygon, const std::vector<int>& numbers, size_t count) {
    Along made{sweep.Shape(), std::vector<TopoDS_Shape>(count)};
    size_t at = 0;
    for (TopExp_Explorer it(polygon, TopAbs_EDGE); it.More(); it.Next(), at++) {
        const TopTools_ListOfShape& faces = sweep.Generated(it.Current());
        if (numbers.at(at) >= 0 && !faces.IsEmpty()) {
            made.sides.at(numbers[at]) = faces.First();
        }
    }
    return made;
}

TopoDS_Wire closed_polygon(const std::vector<gp_Pnt>& corners) {
    BRepBuilderAPI_MakePolygon polygon;
    for (const gp_Pnt& corner : corners) {
        polygon.Add(corner);
    }
    polygon.Close();
    return polygon.Wire();
}

// Turned about an axis that lies in its plane; what lies beyond the axis is cut off.
Along turned(const std::vector<gp_Pnt>& corners, const gp_Ax1& axis, const gp_Dir& out, double angle) {
    const auto off = [&](const gp_Pnt& p) { return gp_Vec(axis.Location(), p).Dot(gp_Vec(out)); };
    std::vector<gp_Pnt> kept;
    std::vector<int> numbers;
    const auto keep = [&](const gp_Pnt& p, int side) {
        if (!kept.empty() && kept.back().Distance(p) < same) {
            numbers.back() = side;
        } else {
            kept.push_back(p);
            numbers.push_back(side);
        }
    };
    for (size_t i = 0; i < corners.size(); i++) {
        const gp_Pnt &a = corners[i], &b = corners[(i + 1) % corners.size()];
        const double at = off(a), next = off(b);
        const int number = static_cast<int>(i);
        if (at >= -same) {
            keep(a, at < same && next < same ? -1 : number);
        }
        if ((at > same && next < -same) || (at < -same && next > same)) {
            keep(gp_Pnt(a.XYZ() + (b.XYZ() - a.XYZ()) * (at / (at - next))), next < 0 ? -1 : number);
        }
    }
    if (kept.size() > 1 && kept.front().Distance(kept.back()) < same) {
        kept.pop_back();
        numbers.pop_back();
    }
    if (kept.size() < 3) {
        cannot("a face lies on its axis");
    }
    const TopoDS_Wire polygon = closed_polygon(kept);
    BRepPrimAPI_MakeRevol revol(BRepBuilderAPI_MakeFace(polygon).Face(), axis, angle);
    return sides(revol, polygon, numbers, corners.size());
}

class Wall {
public:
    Wall(const rg_shape& body, const std::vector<bool>& open, double thickness) : body(body), open(open), thickness(thickness), meeting(body.shape) {}

    std::vector<Piece> pieces() const {
        std::vector<Piece> all;
        for (int i = 1; i <= body.faces.Extent(); i++) {
            if (!open[i - 1]) {
                all.push_back(slab(i));
            }
        }
        for (int i = 1; i <= body.edges.Extent(); i++) {
            if (lies_in(i)) {
                all.push_back(wedge(i));
            } else if (std::optional<Piece> rest = lip(i)) {
                all.push_back(*rest);
            }
        }
        TopTools_IndexedDataMapOfShapeListOfShape around;
        TopExp::MapShapesAndUniqueAncestors(body.shape, TopAbs_VERTEX, TopAbs_EDGE, around);
        for (int i = 1; i <= around.Extent(); i++) {
            if (std::optional<Piece> rest = corner(TopoDS::Vertex(around.FindKey(i)), around(i))) {
                all.push_back(*rest);
            }
        }
        return all;
    }

private:
    bool keeps(const TopoDS_Face& face) const { return !face.IsNull() && !open[body.faces.FindIndex(face) - 1]; }

    bool lies_in(int number) const {
        const TopoDS_Edge edge = TopoDS::Edge(body.edges(number));
        const auto [a, b] = meeting.beside(edge);
        double angle;
        return keeps(a) && keeps(b) && !a.IsSame(b) && meeting.at(edge, 0.5, angle) && angle < -1e-6;
    }

    // Behind a face that is all of a cylinder or cone between two circles: a ring, up to the axis at the most.
    std::optional<Piece> ring(const TopoDS_Face& face, int number) const {
        const BRepAdaptor_Surface surface(face, true);
        if (surface.GetType() != GeomAbs_Cylinder && surface.GetType() != GeomAbs_Cone) {
            return std::nullopt;
        }
        const gp_Ax1 axis = surface.GetType() == GeomAbs_Cylinder ? surface.Cylinder().Axis() : surface.Cone().Axis();
        double u1, u2, v1, v2;
        BRepTools::UVBounds(face, u1, u2, v1, v2);
        const gp_Pnt low = surface.Value(u1, v1), high = surface.Value(u1, v2);
        const double r1 = gp_Lin(axis).Distance(low), r2 = gp_Lin(axis).Distance(high), area = (u2 - u1) * (r1 + r2) / 2 * low.Distance(high);
        FaceIntegrals of = integrals_of(face);
        if (std::abs(std::abs(of.area) - area) > same * area || low.Distance(high) < same) {
            return std::nullopt;
        }
        gp_Pnt place;
        gp_Vec du, dv;
        surface.D1(u1, (v1 + v2) / 2, place, du, dv);
        gp_Dir normal(du.Crossed(dv));
        if (face.Orientation() == TopAbs_REVERSED) {
            normal.Reverse();
        }
        const gp_Vec in = gp_Vec(normal) * -thickness;
        const gp_Vec beside = gp_Vec(axis.Location(), place);
        const gp_Dir out(beside - gp_Vec(axis.Direction()) * beside.Dot(gp_Vec(axis.Direction())));
        std::vector<gp_Pnt> corners{low, high, high.Translated(in), low.Translated(in)};
        // Round a tip that lies in, as at the end of a drilled hole, the insides meet on the axis.
        for (const auto& [tip, corner, other] : {std::array<size_t, 3>{0, 3, 2}, std::array<size_t, 3>{1, 2, 3}}) {
            const double at = gp_Vec(axis.Location(), corners[corner]).Dot(gp_Vec(out)), next = gp_Vec(axis.Location(), corners[other]).Dot(gp_Vec(out));
            if (gp_Lin(axis).Distance(corners[tip]) < same && at > same) {
                corners[corner].Translate(gp_Vec(corners[corner], corners[other]) * (at / (at - next)));
            }
        }
        Along made = turned(corners, axis, out, u2 - u1);
        Piece piece{made.shape, {}, {}};
        note_inner(piece, made.sides[2], face);
        for (const size_t side : {1, 3}) {
            if (!made.sides[side].IsNull()) {
                note_rim(piece, made.sides[side], face);
            }
        }
        return piece;
    }

    void note_inner(Piece& piece, const TopoDS_Shape& side, const TopoDS_Face& face) const {
        if (!side.IsNull()) {
            piece.inner.emplace_back(side, body.faces.FindIndex(face) - 1);
        }
    }

    void note_rim(Piece& piece, const TopoDS_Shape& side, const TopoDS_Face& face) const {
        for (TopExp_Explorer edge(face, TopAbs_EDGE); edge.More(); edge.Next()) {
            const auto [a, b] = meeting.beside(TopoDS::Edge(edge.Current()));
            if (!a.IsNull() && (!keeps(a) || !keeps(b))) {
                piece.rims.emplace_back(side, body.edges.FindIndex(edge.Current()) - 1);
                return;
            }
        }
    }

    Piece slab(int number) const {
        const TopoDS_Face face = TopoDS::Face(body.faces(number));
        const BRepAdaptor_Surface surface(face, false);
        if (surface.GetType() == GeomAbs_Plane) {
            BRepPrimAPI_MakePrism prism(face, gp_Vec(outward(surface, face)) * -thickness);
            Piece piece{prism.Shape(), {{prism.LastShape(), number - 1}}, {}};
            for (TopExp_Explorer edge(face, TopAbs_EDGE); edge.More(); edge.Next()) {
                note_sides(piece, prism.Generated(edge.Current()), TopoDS::Edge(edge.Current()));
            }
            return piece;
        }
        if (std::optional<Piece> round = ring(face, number)) {
            return *round;
        }
        BRepOffset_MakeSimpleOffset offset(face, -thickness);
        offset.SetBuildSolidFlag(true);
        offset.Perform();
        if (!offset.IsDone() || offset.GetResultShape().IsNull()) {
            cannot("a face is bent more tightly than the wall is thick");
        }
        Piece piece{offset.GetResultShape(), {{offset.Generated(face), number - 1}}, {}};
        for (TopExp_Explorer edge(face, TopAbs_EDGE); edge.More(); edge.Next()) {
            TopTools_ListOfShape made;
            const TopoDS_Shape side = offset.Generated(edge.Current());
            if (!side.IsNull()) {
                made.Append(side);
            }
            note_sides(piece, made, TopoDS::Edge(edge.Current()));
        }
        return piece;
    }

    void note_sides(Piece& piece, const TopTools_ListOfShape& made, const TopoDS_Edge& edge) const {
        const auto [a, b] = meeting.beside(edge);
        if (a.IsNull() || (keeps(a) && keeps(b))) {
            return;
        }
        for (const TopoDS_Shape& side : made) {
            piece.rims.emplace_back(side, body.edges.FindIndex(edge) - 1);
        }
    }

    // Between the slabs of two faces, out to where their insides meet.
    Piece wedge(int number) const {
        const TopoDS_Edge edge = TopoDS::Edge(body.edges(number));
        const auto [first, second] = meeting.beside(edge);
        gp_Dir a, b;
        gp_Vec along;
        if (!meeting.normals(edge, 0, a, b, along) || 1 + a.Dot(b) < sharpest) {
            cannot("faces meet too sharply in a corner that lies in");
        }
        const gp_Vec in = gp_Vec(a.XYZ() + b.XYZ()) * (-thickness / (1 + a.Dot(b)));
        Along piece = swept(edge, {gp_Vec(a) * -thickness, in, gp_Vec(b) * -thickness});
        Piece made{piece.shape, {}, {}};
        note_inner(made, piece.sides.at(1), first);
        note_inner(made, piece.sides.at(2), second);
        return made;
    }

    // Between the wedges of three edges that lie in and meet, where all faces are flat.
    std::optional<Piece> corner(const TopoDS_Vertex& vertex, const TopTools_ListOfShape& edges) const {
        if (edges.Extent() != 3) {
            return std::nullopt;
        }
        std::vector<TopoDS_Face> faces;
        for (const TopoDS_Shape& edge : edges) {
            if (!lies_in(body.edges.FindIndex(edge))) {
                return std::nullopt;
            }
            const auto [a, b] = meeting.beside(TopoDS::Edge(edge));
            for (const TopoDS_Face& face : {a, b}) {
                if (std::none_of(faces.begin(), faces.end(), [&](const TopoDS_Face& f) { return f.IsSame(face); })) {
                    faces.push_back(face);
                }
            }
        }
        if (faces.size() != 3) {
            return std::nullopt;
        }
        gp_Vec n[3];
        for (int i = 0; i < 3; i++) {
            const BRepAdaptor_Surface surface(faces[i], false);
            if (surface.GetType() != GeomAbs_Plane) {
                return std::nullopt;
            }
            n[i] = gp_Vec(outward(surface, faces[i]));
        }
        const gp_Pnt p = BRep_Tool::Pnt(vertex);
        const auto pair = [&](int i, int k) { return (n[i] + n[k]) * (-thickness / (1 + n[i].Dot(n[k]))); };
        const double across = n[0].Dot(n[1].Crossed(n[2]));
        if (std::abs(across) < sharpest) {
            cannot("faces meet too sharply in a corner that lies in");
        }
        const gp_Vec all = (n[1].Crossed(n[2]) + n[2].Crossed(n[0]) + n[0].Crossed(n[1])) * (-thickness / across);
        BRepBuilderAPI_Sewing sewing(same);
        Piece piece;
        std::vector<std::pair<TopoDS_Face, int>> insides;
        for (int i = 0; i < 3; i++) {
            const int k = (i + 1) % 3, l = (i + 2) % 3;
            const gp_Vec at = n[i] * -thickness;
            sewing.Add(BRepBuilderAPI_MakeFace(closed_polygon({p, p.Translated(at), p.Translated(pair(i, k)), p.Translated(n[k] * -thickness)})).Face());
            const TopoDS_Face inside = BRepBuilderAPI_MakeFace(closed_polygon({p.Translated(at), p.Translated(pair(i, k)), p.Translated(all), p.Translated(pair(i, l))})).Face();
            sewing.Add(inside);
            insides.emplace_back(inside, i);
        }
        sewing.Perform();
        TopExp_Explorer shell(sewing.SewedShape(), TopAbs_SHELL);
        if (!shell.More()) {
            cannot("a corner that lies in does not close");
        }
        TopoDS_Solid solid = BRepBuilderAPI_MakeSolid(TopoDS::Shell(shell.Current())).Solid();
        BRepLib::OrientClosedSolid(solid);
        piece.shape = solid;
        for (const auto& [inside, i] : insides) {
            note_inner(piece, sewing.ModifiedSubShape(inside), faces[i]);
        }
        return piece;
    }

    static gp_Dir outward(const BRepAdaptor_Surface& flat, const TopoDS_Face& face) {
        const gp_Dir normal = flat.Plane().Position().Direction();
        return flat.Plane().Direct() == (face.Orientation() == TopAbs_REVERSED) ? normal.Reversed() : normal;
    }

    // Where a face that keeps its wall meets an open one flatly, the inside runs on up to the open one. Where they are smooth it
    // never gets there, and the wall ends square.
    std::optional<Piece> lip(int number) const {
        const TopoDS_Edge edge = TopoDS::Edge(body.edges(number));
        const auto [first, second] = meeting.beside(edge);
        gp_Dir a, b;
        gp_Vec along;
        if (first.IsNull() || keeps(first) == keeps(second) || BRep_Tool::Degenerated(edge) || !meeting.normals(edge, 0, a, b, along)) {
            return std::nullopt;
        }
        const gp_Vec wall(keeps(first) ? a : b), mouth(keeps(first) ? b : a);
        double angle;
        const double flat = wall.Dot(mouth), reach = thickness / std::sqrt(std::max(gp::Resolution(), 1 - flat * flat));
        if (flat < 1e-9 || reach > longest_lip * thickness || !meeting.at(edge, 0.5, angle) || angle < 0) {
            return std::nullopt;
        }
        const gp_Vec to = (wall - flat * mouth).Normalized() * -reach;
        Along piece = swept(edge, {wall * -thickness, to});
        Piece made{piece.shape, {}, {}};
        note_inner(made, piece.sides.at(1), keeps(first) ? first : second);
        return made;
    }

    // A polygon, from a place on the edge over others seen from it, along the whole edge.
    Along swept(const TopoDS_Edge& edge, const std::vector<gp_Vec>& others) const {
        const BRepAdaptor_Curve curve(edge);
        const double from = curve.FirstParameter(), to = curve.LastParameter();
        const gp_Pnt start = curve.Value(from);
        runs_evenly(edge, curve);
        std::vector<gp_Pnt> corners{start};
        for (const gp_Vec& other : others) {
            corners.push_back(start.Translated(other));
        }
        if (curve.GetType() == GeomAbs_Circle) {
            const gp_Ax1 axis = curve.Circle().Axis();
            return turned(corners, axis, gp_Dir(gp_Vec(axis.Location(), start)), to - from);
        }
        const TopoDS_Wire polygon = closed_polygon(corners);
        std::vector<int> numbers(corners.size());
        std::iota(numbers.begin(), numbers.end(), 0);
        BRepPrimAPI_MakePrism prism(BRepBuilderAPI_MakeFace(polygon).Face(), gp_Vec(start, curve.Value(to)));
        return sides(prism, polygon, numbers, corners.size());
    }

    // Both faces stand the same way all along the edge.
    void runs_evenly(const TopoDS_Edge& edge, const BRepAdaptor_Curve& curve) const {
        gp_Dir a, b;
        gp_Vec along;
        if (curve.GetType() != GeomAbs_Line && curve.GetType() != GeomAbs_Circle) {
            cannot("an edge is free-form");
        }
        meeting.normals(edge, 0, a, b, along);
        for (const double share : {0.25, 0.5, 0.75, 1.0}) {
            gp_Dir c, d;
            gp_Vec e(a), f(b);
            if (curve.GetType() == GeomAbs_Circle) {
                e.Rotate(curve.Circle().Axis(), share * (curve.LastParameter() - curve.FirstParameter()));
                f.Rotate(curve.Circle().Axis(), share * (curve.LastParameter() - curve.FirstParameter()));
            }
            if (!meeting.normals(edge, share, c, d, along) || e.Angle(gp_Vec(c)) > 1e-6 || f.Angle(gp_Vec(d)) > 1e-6) {
                cannot("the faces along an edge turn");
            }
        }
    }

    const rg_shape& body;
    const std::vector<bool>& open;
    const double thickness;
    const Meeting meeting;
};

// Where faces went in an operation.
template <typename Operation>
Behind after(Operation& operation, const Behind& before) {
    Behind now;
    for (const auto& [face, of] : before) {
        const TopTools_ListOfShape& modified = operation.Modified(face);
        for (const TopoDS_Shape& changed : modified) {
            now.emplace_back(changed, of);
        }
        if (modified.IsEmpty() && !operation.IsDeleted(face)) {
            now.emplace_back(face, of);
        }
    }
    return now;
}

// Those that are no face of the body.
Behind without(const Behind& faces, const rg_shape& body) {
    Behind rest;
    std::copy_if(faces.begin(), faces.end(), std::back_inserter(rest), [&](const auto& one) { return !body.faces.Contains(one.first); });
    return rest;
}

int32_t make(const rg_shape& own, const std::vector<bool>& open, double thickness, bool simplify, rg_result** result) {
    const Wall wall(own, open, thickness);
    Behind inner, rims;
    TopTools_ListOfShape slabs;
    for (const Piece& piece : wall.pieces()) {
        slabs.Append(piece.shape);
        inner.insert(inner.end(), piece.inner.begin(), piece.inner.end());
        rims.insert(rims.end(), piece.rims.begin(), piece.rims.end());
    }
    BRepAlgoAPI_Cut space;
    build_between(space, own.shape, slabs);
    if (space.HasErrors()) {
        return rg_fail("the space inside could not be found");
    }
    if (simplify) {
        space.SimplifyResult(true, true);
    }
    const double room = volume_of(space.Shape()), whole = volume_of(own.shape);
    if (!TopExp_Explorer(space.Shape(), TopAbs_SOLID).More() || room <= 0 || room >= whole) {
        return rg_fail("there is no room inside");
    }
    TopTools_ListOfShape rooms;
    rooms.Append(space.Shape());
    BRepAlgoAPI_Cut cut;
    build_between(cut, own.shape, rooms);
    if (cut.HasErrors()) {
        return rg_fail("the wall could not be made");
    }
    if (std::abs(volume_of(cut.Shape()) + room - whole) > adding_up * whole) {
        return rg_fail("the wall does not add up");
    }
    Origins origins(cut.Shape());
    const Behind insides = after(cut, after(space, inner));
    for (const auto& [face, of] : insides) {
        origins.note(face, 0, 7, of);
    }
    // What lies on no inside of a slab must keep off too.
    Behind all;
    for (TopExp_Explorer face(space.Shape(), TopAbs_FACE); face.More(); face.Next()) {
        all.emplace_back(face.Current(), -1);
    }
    if (!thick_everywhere(own, open, without(after(cut, all), own), thickness)) {
        return rg_fail("the wall would be thinner somewhere");
    }
    for (const auto& [face, of] : after(cut, after(space, rims))) {
        origins.note(face, 0, 4, of);
    }
    origins.carry(cut, &own, 0);
    return origins.release(result);
}

}  // namespace

RG_API int32_t rg_wall(const rg_shape* s, const int32_t* open, int32_t count, double thickness, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const rg_shape own(BRepBuilderAPI_Copy(s->shape).Shape());
        std::vector<bool> opened(own.faces.Extent(), false);
        for (int32_t i = 0; i < count; i++) {
            opened[open[i]] = true;
        }
        // Where the library throws at making pieces of one surface one face, they stay pieces.
        return rg_guard([&] { return make(own, opened, thickness, true, result); }) == 0 ? 0 : make(own, opened, thickness, false, result);
    });
}
