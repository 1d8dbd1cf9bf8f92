// Forms that change the faces and edges of one body: fillet, chamfer, shell, draft.
#include "meeting.h"
#include "profile.h"
#include "sound.h"
#include "trace.h"
#include "wall.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Defeaturing.hxx>
#include <BRepBuilderAPI_Copy.hxx>
#include <BRepFilletAPI_LocalOperation.hxx>
#include <BRepFilletAPI_MakeChamfer.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRepOffsetAPI_DraftAngle.hxx>
#include <BRepOffsetAPI_MakeOffsetShape.hxx>
#include <BRepOffsetAPI_MakeThickSolid.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <Geom2d_Curve.hxx>
#include <Geom_Curve.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Solid.hxx>
#include <gp_Pln.hxx>
#include <algorithm>
#include <cmath>

namespace {

constexpr double adding_up = 1e-6;
// How much more than the section along the edge a blend may take or give: round ends and bent edges.
constexpr double beyond_section = 3;

// Whether a body lost no more along edges that stand out, and gained no more along those that lie in, than sections of
// that area would. A blend goes astray without a word where it meets what lies beside it.
template <typename Area>
bool within(BRepFilletAPI_LocalOperation& operation, const rg_shape* from, Area section) {
    const Meeting meeting(from->shape);
    double most_lost = 0, most_gained = 0;
    for (int contour = 1; contour <= operation.NbContours(); contour++) {
        for (int i = 1; i <= operation.NbEdges(contour); i++) {
            const TopoDS_Edge edge = operation.Edge(contour, i);
            double out = 0, in = 0;
            for (const double share : {0.1, 0.5, 0.9}) {
                double angle;
                if (!meeting.at(edge, share, angle)) {
                    return true;
                }
                (angle > 0 ? out : in) = std::max(angle > 0 ? out : in, section(std::abs(angle)));
            }
            const double length = GCPnts_AbscissaPoint::Length(BRepAdaptor_Curve(edge));
            most_lost += length * out;
            most_gained += length * in;
        }
    }
    const double before = volume_of(from->shape), change = volume_of(operation.Shape()) - before, slack = adding_up * before;
    return change >= -beyond_section * most_lost - slack && change <= beyond_section * most_gained + slack;
}

constexpr const char* astray = "it would not change the body by what lies along the edges";

int32_t finish(BRepBuilderAPI_MakeShape& operation, const rg_shape* from, rg_result** result) {
    Origins origins(operation.Shape());
    origins.carry_made(operation, from, 0);
    origins.carry(operation, from, 0);
    return origins.release(result);
}

// What an offset made of a face.
void note_behind(Behind& other_side, BRepBuilderAPI_MakeShape& offset, const TopoDS_Shape& face, int number) {
    for (const TopoDS_Shape& made : offset.Generated(face)) {
        if (made.ShapeType() == TopAbs_FACE) {
            other_side.emplace_back(made, number);
        }
    }
}

// A body with a closed space inside: between itself and its own offset, whichever is the inner one.
int32_t hollow(const rg_shape& own, double thickness, rg_result** result) {
    BRepOffsetAPI_MakeOffsetShape offset;
    offset.PerformByJoin(own.shape, thickness, 1e-4, BRepOffset_Skin, false, false, GeomAbs_Intersection);
    if (!offset.IsDone() || offset.Shape().IsNull()) {
        return rg_fail("the body could not be hollowed");
    }
    const TopoDS_Shape outside = thickness > 0 ? offset.Shape() : own.shape, inside = thickness > 0 ? own.shape : offset.Shape();
    BRep_Builder builder;
    TopoDS_Solid solid;
    builder.MakeSolid(solid);
    int shells = 0;
    for (const TopoDS_Shape& from : {outside, inside}) {
        for (TopExp_Explorer it(from, TopAbs_SHELL); it.More(); it.Next()) {
            builder.Add(solid, from.IsSame(inside) ? it.Current().Reversed() : it.Current());
            shells++;
        }
    }
    if (shells != 2) {
        return rg_fail("the body has hollows already or falls into several");
    }
    const double between = volume_of(solid), whole = volume_of(outside);
    if (between <= 0 || between >= whole) {
        return rg_fail(astray, rg_failure_unsound);
    }
    Origins origins(solid);
    Behind other_side;
    for (int i = 1; i <= own.faces.Extent(); i++) {
        origins.note(own.faces(i), 0, 0, i - 1);
        origins.note(offset.Generated(own.faces(i)), 0, 7, i - 1);
        note_behind(other_side, offset, own.faces(i), i - 1);
    }
    if (!thick_everywhere(own, std::vector<bool>(own.faces.Extent(), false), other_side, std::abs(thickness))) {
        return rg_fail("the wall would be thinner somewhere");
    }
    return origins.release(result);
}

}  // namespace

RG_API int32_t rg_fillet(const rg_shape* s, const int32_t* edges, const double* radii, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRepFilletAPI_MakeFillet fillet(s->shape);
        for (int32_t i = 0; i < count; i++) {
            if (fillet.Contour(TopoDS::Edge(s->edges(edges[i] + 1))) == 0) {
                fillet.Add(radii[i], TopoDS::Edge(s->edges(edges[i] + 1)));
            }
        }
        fillet.Build();
        if (!fillet.IsDone()) {
            return rg_fail("the edges could not be rounded");
        }
        const double radius = *std::max_element(radii, radii + count);
        if (!within(fillet, s, [radius](double angle) { return radius * radius * (std::tan(angle / 2) - angle / 2); })) {
            return rg_fail(astray, rg_failure_unsound);
        }
        return finish(fillet, s, result);
    });
}

RG_API int32_t rg_chamfer(const rg_shape* s, const int32_t* edges, const int32_t* faces, const double* sizes, int32_t how, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRepFilletAPI_MakeChamfer chamfer(s->shape);
        for (int32_t i = 0; i < count; i++) {
            const TopoDS_Edge edge = TopoDS::Edge(s->edges(edges[i] + 1));
            const TopoDS_Face face = TopoDS::Face(s->faces(faces[i] + 1));
            if (chamfer.Contour(edge) != 0) {
                continue;
            }
            if (how == 0) {
                chamfer.Add(sizes[0], edge);
            } else if (how == 1) {
                chamfer.Add(sizes[0], sizes[1], edge, face);
            } else {
                chamfer.AddDA(sizes[0], sizes[1], edge, face);
            }
        }
        chamfer.Build();
        if (!chamfer.IsDone()) {
            return rg_fail("the edges could not be bevelled");
        }
        const auto section = [sizes, how](double angle) {
            // By an angle, the other leg follows from the triangle with the corner between the faces.
            const double second = how == 0 ? sizes[0] : how == 1 ? sizes[1] : sizes[0] * std::sin(sizes[1]) / std::max(1e-3, std::sin(angle - sizes[1]));
            return sizes[0] * second * std::sin(angle) / 2;
        };
        if (!within(chamfer, s, section)) {
            return rg_fail(astray, rg_failure_unsound);
        }
        return finish(chamfer, s, result);
    });
}

RG_API int32_t rg_shell(const rg_shape* s, const int32_t* open, int32_t count, double thickness, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        // The library widens tolerances of what it hollows, and the body is kept for other rebuilds.
        const rg_shape own(BRepBuilderAPI_Copy(s->shape).Shape());
        if (count == 0) {
            return hollow(own, thickness, result);
        }
        TopTools_ListOfShape opened;
        std::vector<bool> is_open(own.faces.Extent(), false);
        for (int32_t i = 0; i < count; i++) {
            opened.Append(own.faces(open[i] + 1));
            is_open[open[i]] = true;
        }
        BRepOffsetAPI_MakeThickSolid shell;
        shell.MakeThickSolidByJoin(own.shape, opened, thickness, 1e-4, BRepOffset_Skin, false, false, GeomAbs_Intersection);
        shell.Build();
        if (!shell.IsDone()) {
            return rg_fail("the body could not be hollowed");
        }
        Origins origins(shell.Shape());
        Behind other_side;
        for (int i = 1; i <= own.faces.Extent(); i++) {
            origins.note(shell.Generated(own.faces(i)), 0, 7, i - 1);
            if (!is_open[i - 1]) {
                note_behind(other_side, shell, own.faces(i), i - 1);
            }
        }
        if (!thick_everywhere(own, is_open, other_side, std::abs(thickness))) {
            return rg_fail("the wall would be thinner somewhere");
        }
        origins.carry(shell, &own, 0);
        return origins.release(result);
    });
}

RG_API int32_t rg_without_faces(const rg_shape* s, const int32_t* faces, int32_t count, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const rg_shape own(BRepBuilderAPI_Copy(s->shape).Shape());
        BRepAlgoAPI_Defeaturing removal;
        removal.SetShape(own.shape);
        for (int32_t i = 0; i < count; i++) {
            removal.AddFaceToRemove(own.faces(faces[i] + 1));
        }
        removal.Build();
        if (!removal.IsDone() || removal.HasErrors() || removal.HasWarnings()) {
            return rg_fail("the faces beside could not be brought together");
        }
        Origins origins(removal.Shape());
        origins.carry(removal, &own, 0);
        return origins.release(result);
    });
}

RG_API int32_t rg_draft(const rg_shape* s, const int32_t* faces, int32_t count, const double* plane_numbers, double angle, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const Plane plane(plane_numbers);
        BRepOffsetAPI_DraftAngle draft(s->shape);
        for (int32_t i = 0; i < count; i++) {
            const TopoDS_Face face = TopoDS::Face(s->faces(faces[i] + 1));
            draft.Add(face, plane.z, angle, gp_Pln(plane.axes()));
            if (!draft.AddDone()) {
                return rg_fail("face " + std::to_string(faces[i]) + " cannot be tilted");
            }
        }
        draft.Build();
        if (!draft.IsDone()) {
            return rg_fail("the faces could not be tilted");
        }
        Origins origins(draft.Shape());
        origins.carry(draft, s, 0);
        origins.carry_places(s, 0);
        return origins.release(result);
    });
}
