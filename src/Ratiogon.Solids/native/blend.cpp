// Forms that change the faces and edges of one body: fillet, chamfer, shell, draft.
#include "profile.h"
#include "trace.h"

#include <BRepFilletAPI_MakeChamfer.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRepOffsetAPI_DraftAngle.hxx>
#include <BRepOffsetAPI_MakeThickSolid.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <gp_Pln.hxx>

namespace {

int32_t finish(BRepBuilderAPI_MakeShape& operation, const rg_shape* from, rg_result** result) {
    if (!TopExp_Explorer(operation.Shape(), TopAbs_SOLID).More()) {
        return rg_fail("nothing is left of the body");
    }
    Origins origins(operation.Shape());
    origins.carry_made(operation, from, 0);
    origins.carry(operation, from, 0);
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
        return finish(chamfer, s, result);
    });
}

RG_API int32_t rg_shell(const rg_shape* s, const int32_t* open, int32_t count, double thickness, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        TopTools_ListOfShape opened;
        for (int32_t i = 0; i < count; i++) {
            opened.Append(s->faces(open[i] + 1));
        }
        BRepOffsetAPI_MakeThickSolid shell;
        shell.MakeThickSolidByJoin(s->shape, opened, thickness, 1e-4, BRepOffset_Skin, false, false, GeomAbs_Intersection);
        shell.Build();
        if (!shell.IsDone()) {
            return rg_fail("the body could not be hollowed");
        }
        if (!TopExp_Explorer(shell.Shape(), TopAbs_SOLID).More()) {
            return rg_fail("nothing is left of the body");
        }
        Origins origins(shell.Shape());
        for (int i = 1; i <= s->faces.Extent(); i++) {
            origins.note(shell.Generated(s->faces(i)), 0, 7, i - 1);
        }
        origins.carry(shell, s, 0);
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
