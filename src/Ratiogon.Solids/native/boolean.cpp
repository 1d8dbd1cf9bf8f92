#include "plant.h"
#include "sound.h"
#include "trace.h"
#include "turned.h"

#include <BRepAlgoAPI_Common.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBndLib.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRep_Builder.hxx>
#include <Bnd_Box.hxx>
#include <IntCurvesFace_ShapeIntersector.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <algorithm>
#include <cmath>
#include <memory>
#include <gp_Lin.hxx>
#include <gp_Pnt.hxx>
#include <sstream>
#include <vector>

namespace {

std::unique_ptr<BRepAlgoAPI_BooleanOperation> operation_of(int32_t kind) {
    if (kind == 0) {
        return std::make_unique<BRepAlgoAPI_Fuse>();
    }
    if (kind == 1 || kind == 3) {
        return std::make_unique<BRepAlgoAPI_Cut>();
    }
    return std::make_unique<BRepAlgoAPI_Common>();
}

constexpr double adding_up = 1e-5;

// The edges of the faces that may close in both directions.
TopTools_MapOfShape delicate_edges(const TopoDS_Shape& shape) {
    TopTools_MapOfShape edges;
    for (TopExp_Explorer face(shape, TopAbs_FACE); face.More(); face.Next()) {
        for (TopExp_Explorer edge(face.Current(), TopAbs_EDGE); delicate(TopoDS::Face(face.Current())) && edge.More(); edge.Next()) {
            edges.Add(edge.Current());
        }
    }
    return edges;
}

// The result with pieces of one surface made one face. Those of a surface that may close in both directions stay: at
// uniting them the library throws, or makes a face of the wrong side of its outline, or spoils the bodies that went in.
TopoDS_Shape simplified(BRepAlgoAPI_BooleanOperation& operation) {
    const TopTools_MapOfShape kept = delicate_edges(operation.Shape());
    if (kept.IsEmpty()) {
        operation.SimplifyResult(true, true);
        return operation.Shape();
    }
    ShapeUpgrade_UnifySameDomain unify(operation.Shape(), true, true, false);
    unify.KeepShapes(kept);
    unify.Build();
    operation.History()->Merge(unify.History());
    return unify.Shape();
}

bool solid(const TopoDS_Shape& shape) { return TopExp_Explorer(shape, TopAbs_SOLID).More(); }

// Whether a result holds no more and no less than the bodies allow: a boolean may go astray without a word where faces
// nearly touch.
bool adds_up(int32_t kind, const TopoDS_Shape& body, const TopTools_ListOfShape& tools, const TopoDS_Shape& result) {
    const double had = volume_of(body), has = volume_of(result);
    double all = 0, most = 0;
    for (const TopoDS_Shape& tool : tools) {
        if (!solid(tool)) {
            return true;
        }
        const double volume = volume_of(tool);
        all += volume;
        most = std::max(most, volume);
    }
    const double slack = adding_up * std::max(had, all);
    switch (kind) {
        case 0: return has >= std::max(had, most) - slack && has <= had + all + slack;
        case 2: return has > 0 && has <= std::min(had, all) + slack;
        default: return has > 0 && has <= had + slack && has >= had - all - slack;
    }
}

// Where a place lies in a body.
class Inside {
public:
    explicit Inside(const TopoDS_Shape& shape) : shape(shape) { BRepBndLib::AddClose(shape, box); }

    const Bnd_Box& bounds() const { return box; }

    const TopoDS_Shape& body() const { return shape; }

    TopAbs_State of(const gp_Pnt& place) {
        if (box.IsVoid() || box.IsOut(place)) {
            return TopAbs_OUT;
        }
        if (!classifier) {
            classifier = std::make_unique<BRepClass3d_SolidClassifier>(shape);
        }
        classifier->Perform(place, 1e-4 * std::sqrt(box.SquareExtent()));
        return classifier->State();
    }

    // The same by counting the faces that lines from the place go through, most of three lines.
    bool holds(const gp_Pnt& place) const {
        if (box.IsVoid() || box.IsOut(place)) {
            return false;
        }
        IntCurvesFace_ShapeIntersector faces;
        faces.Load(shape, 1e-9 * std::sqrt(box.SquareExtent()));
        int in = 0;
        for (const gp_Dir& way : {gp_Dir(0.5377, 0.2887, 0.7919), gp_Dir(-0.3313, 0.8571, 0.3951), gp_Dir(0.6127, -0.7411, -0.2753)}) {
            faces.Perform(gp_Lin(place, way), 0, 4 * std::sqrt(box.SquareExtent()));
            in += faces.IsDone() && faces.NbPnt() % 2 == 1 ? 1 : 0;
        }
        return in >= 2;
    }

private:
    TopoDS_Shape shape;
    Bnd_Box box;
    std::unique_ptr<BRepClass3d_SolidClassifier> classifier;
};

bool expected(int32_t kind, bool in_body, bool in_tool) { return kind == 0 ? in_body || in_tool : kind == 2 ? in_body && in_tool : in_body && !in_tool; }

constexpr int most_places = 36, places_each = 6;

// The fractions of van der Corput: evenly spread over 0 to 1 whatever their number.
double spread(int i, int base) {
    double value = 0, digit = 1;
    for (int n = i + 1; n > 0; n /= base) {
        digit /= base;
        value += digit * (n % base);
    }
    return value;
}

// Where two boxes overlap; void where they do not.
Bnd_Box shared(const Bnd_Box& a, const Bnd_Box& b) {
    Bnd_Box both;
    if (a.IsVoid() || b.IsVoid() || a.IsOut(b)) {
        return both;
    }
    const gp_Pnt l = a.CornerMin(), h = a.CornerMax(), m = b.CornerMin(), g = b.CornerMax();
    both.Update(std::max(l.X(), m.X()), std::max(l.Y(), m.Y()), std::max(l.Z(), m.Z()), std::min(h.X(), g.X()), std::min(h.Y(), g.Y()), std::min(h.Z(), g.Z()));
    return both;
}

// Whether places in the bodies lie in the result as they do in the bodies: places all over each of them, and where the body and a
// tool may overlap. Volumes within bounds let a tool pass that was left out, a piece that was taken for another, or bodies whose
// faces were not seen to meet. Where a surface may close in both directions the library cannot tell which side of its outline a
// face lies on, so what lies in such a body neither: there the volumes must do.
bool agrees(int32_t kind, const TopoDS_Shape& body, const TopTools_ListOfShape& tools, const TopoDS_Shape& result) {
    std::vector<Inside> all;
    all.emplace_back(body);
    for (const TopoDS_Shape& tool : tools) {
        if (!solid(tool)) {
            return true;
        }
        all.emplace_back(tool);
    }
    if (!delicate_edges(result).IsEmpty() || std::any_of(all.begin(), all.end(), [](const Inside& one) { return !delicate_edges(one.body()).IsEmpty(); })) {
        return true;
    }
    Inside made(result);
    const int stride = std::max<int>(1, static_cast<int>(all.size()) * places_each / most_places);
    std::vector<Bnd_Box> regions;
    for (std::size_t i = 0; i < all.size(); i += stride) {
        regions.push_back(all[i].bounds());
        if (i > 0) {
            regions.push_back(shared(all[0].bounds(), all[i].bounds()));
        }
    }
    for (const Bnd_Box& region : regions) {
        if (region.IsVoid()) {
            continue;
        }
        const gp_Pnt low = region.CornerMin(), high = region.CornerMax();
        for (int k = 0; k < places_each; k++) {
            const gp_Pnt place(
                low.X() + spread(k, 2) * (high.X() - low.X()), low.Y() + spread(k, 3) * (high.Y() - low.Y()), low.Z() + spread(k, 5) * (high.Z() - low.Z()));
            const TopAbs_State in_body = all[0].of(place);
            int in_tools = 0;
            bool edge = in_body == TopAbs_ON || in_body == TopAbs_UNKNOWN;
            for (std::size_t t = 1; t < all.size() && !edge; t++) {
                const TopAbs_State state = all[t].of(place);
                in_tools += state == TopAbs_IN ? 1 : 0;
                edge |= state == TopAbs_ON || state == TopAbs_UNKNOWN;
            }
            if (edge) {
                continue;
            }
            // A place in two bodies at once is in their join by one skin about it, not by two: that only lines tell.
            const bool twice = kind == 0 && (in_body == TopAbs_IN ? 1 : 0) + in_tools > 1;
            const TopAbs_State is = made.of(place);
            if (!twice && (is == TopAbs_ON || is == TopAbs_UNKNOWN || (is == TopAbs_IN) == expected(kind, in_body == TopAbs_IN, in_tools > 0))) {
                continue;
            }
            const bool again = std::any_of(all.begin() + 1, all.end(), [&place](const Inside& tool) { return tool.holds(place); });
            if (made.holds(place) != expected(kind, all[0].holds(place), again)) {
                return false;
            }
        }
    }
    return true;
}

// Angles by which the round faces of the body and of the tools are turned where the operation goes astray as they are.
struct Attempt {
    bool simplify;
    double body, tools;
};

constexpr const char* astray = "what came out does not add up; where faces nearly touch, change a size a little";
constexpr const char* nothing = "nothing is left of the body";

// Larger bodies are refused at once: trying again would take longer than anybody waits.
constexpr int most_faces_turned = 400;

enum class Outcome { made, nothing_left, failed };

Outcome combine(int32_t kind, const Attempt& attempt, const rg_shape* a, const rg_shape* const* tools, int32_t count, rg_result** result) {
    const auto operation = operation_of(kind);
    const Turned body(a->shape, attempt.body);
    std::vector<std::unique_ptr<Turned>> turned;
    TopTools_ListOfShape others, as_they_are;
    for (int32_t i = 0; i < count; i++) {
        turned.push_back(std::make_unique<Turned>(tools[i]->shape, attempt.tools));
        others.Append(turned.back()->shape());
        as_they_are.Append(tools[i]->shape);
    }
    build_between(*operation, body.shape(), others);
    if (operation->HasErrors()) {
        std::ostringstream why;
        operation->DumpErrors(why);
        rg_fail("the bodies could not be combined: " + why.str());
        return Outcome::failed;
    }
    const TopoDS_Shape combined = attempt.simplify ? simplified(*operation) : operation->Shape();
    if (!solid(combined)) {
        const bool right = agrees(kind, a->shape, as_they_are, combined);
        right ? rg_fail(nothing, rg_failure_nothing_left) : rg_fail(astray);
        return right ? Outcome::nothing_left : Outcome::failed;
    }
    if (!adds_up(kind, a->shape, as_they_are, combined) || !agrees(kind, a->shape, as_they_are, combined)) {
        rg_fail(astray);
        return Outcome::failed;
    }
    Origins origins(combined);
    origins.carry(*operation, a, 0, [&body](const TopoDS_Shape& face) { return body.of(face); });
    for (int32_t i = 0; i < count; i++) {
        origins.carry(*operation, tools[i], i + 1, [&turned, i](const TopoDS_Shape& face) { return turned[i]->of(face); });
    }
    return origins.release(result) == 0 ? Outcome::made : Outcome::failed;
}

}  // namespace

RG_API int32_t rg_boolean(int32_t kind, const rg_shape* a, const rg_shape* const* tools, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        if (plant(kind, a, tools, count, result)) {
            return 0;
        }
        // Where making pieces of one surface one face spoils the body, they stay pieces; where the library does not see faces meet, it
        // is asked again with their seams elsewhere; making them one face then never ends for some.
        static constexpr Attempt attempts[] = {{true, 0, 0}, {false, 0, 0}, {false, 0, -0.65}, {false, -0.65, 0}, {false, 0.65, 0}, {false, 0, -1.57},
            {false, -1.1, 0.3}};
        int faces = a->faces.Extent();
        for (int32_t i = 0; i < count; i++) {
            faces += tools[i]->faces.Extent();
        }
        std::string first;
        for (const Attempt& attempt : attempts) {
            if (kind == 3 && attempt.simplify) {
                continue;
            }
            if ((attempt.body != 0 || attempt.tools != 0) && faces > most_faces_turned) {
                break;
            }
            const Outcome came = combine(kind, attempt, a, tools, count, result);
            if (came != Outcome::failed) {
                return came == Outcome::made ? 0 : 1;
            }
            first = first.empty() ? rg_error() : first;
        }
        return rg_fail(first);
    });
}

RG_API int32_t rg_beside(const rg_shape* const* shapes, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRep_Builder builder;
        TopoDS_Compound all;
        builder.MakeCompound(all);
        for (int32_t i = 0; i < count; i++) {
            builder.Add(all, shapes[i]->shape);
        }
        Origins origins(all);
        for (int32_t i = 0; i < count; i++) {
            for (int k = 1; k <= shapes[i]->faces.Extent(); k++) {
                origins.note(shapes[i]->faces(k), i, 0, k - 1);
            }
            origins.know(shapes[i]);
        }
        return origins.release_unchecked(result);
    });
}

RG_API int32_t rg_solid_at(const rg_shape* s, int32_t number, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        TopExp_Explorer it(s->shape, TopAbs_SOLID);
        for (int32_t i = 0; i < number && it.More(); i++) {
            it.Next();
        }
        if (!it.More()) {
            return rg_fail("there is no such solid");
        }
        Origins origins(it.Current());
        for (TopExp_Explorer face(it.Current(), TopAbs_FACE); face.More(); face.Next()) {
            origins.note(face.Current(), 0, 0, s->faces.FindIndex(face.Current()) - 1);
        }
        // What is sound of a file was looked at when it was read.
        origins.know(s);
        return origins.release_unchecked(result);
    });
}

RG_API int32_t rg_solids_with(const rg_shape* s, const int32_t* faces, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRep_Builder builder;
        TopoDS_Compound kept;
        builder.MakeCompound(kept);
        int found = 0;
        for (TopExp_Explorer it(s->shape, TopAbs_SOLID); it.More(); it.Next()) {
            TopTools_IndexedMapOfShape own;
            TopExp::MapShapes(it.Current(), TopAbs_FACE, own);
            for (int32_t i = 0; i < count; i++) {
                if (own.Contains(s->faces(faces[i] + 1))) {
                    builder.Add(kept, it.Current());
                    found++;
                    break;
                }
            }
        }
        if (found == 0) {
            return rg_fail("no solid has these faces");
        }
        Origins origins(kept);
        for (int i = 1; i <= s->faces.Extent(); i++) {
            origins.note(s->faces(i), 0, 0, i - 1);
        }
        return origins.release(result);
    });
}
