// Faces of a body closed to a solid of their own: what a pocket would be filled with, or a boss cut off.
#include "trace.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRepGProp_Face.hxx>
#include <BRepLib.hxx>
#include <BRepTopAdaptor_FClass2d.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <ElSLib.hxx>
#include <Geom_Surface.hxx>
#include <ShapeAnalysis_FreeBounds.hxx>
#include <ShapeFix_Face.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_HSequenceOfShape.hxx>
#include <TopTools_IndexedDataMapOfShapeListOfShape.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Solid.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <cmath>

namespace {

struct Rim {
    TopoDS_Wire wire;
    TopoDS_Face beside;  // a face of the body that it lies on
    double size;
};

double size_of(const TopoDS_Shape& shape) {
    Bnd_Box box;
    BRepBndLib::Add(shape, box);
    return std::sqrt(box.SquareExtent());
}

// Whether two faces lie on one surface; flat ones may be different faces of one plane.
bool same_surface(const TopoDS_Face& a, const TopoDS_Face& b) {
    if (BRep_Tool::Surface(a) == BRep_Tool::Surface(b)) {
        return true;
    }
    const BRepAdaptor_Surface p(a, false), q(b, false);
    return p.GetType() == GeomAbs_Plane && q.GetType() == GeomAbs_Plane && p.Plane().Axis().IsParallel(q.Plane().Axis(), 1e-9) && p.Plane().Distance(q.Plane().Location()) < 1e-7;
}

// The wires along which the faces end, each with the face beside that all of its edges lie on.
int32_t find_rims(const rg_shape* s, const TopTools_MapOfShape& picked, std::vector<Rim>& rims) {
    TopTools_IndexedDataMapOfShapeListOfShape on;
    TopExp::MapShapesAndAncestors(s->shape, TopAbs_EDGE, TopAbs_FACE, on);
    Handle(TopTools_HSequenceOfShape) edges = new TopTools_HSequenceOfShape, wires;
    for (int i = 1; i <= on.Extent(); i++) {
        int inside = 0, all = 0;
        for (const TopoDS_Shape& face : on(i)) {
            inside += picked.Contains(face) ? 1 : 0;
            all++;
        }
        if (inside == 1 && all == 2 && !BRep_Tool::Degenerated(TopoDS::Edge(on.FindKey(i)))) {
            edges->Append(on.FindKey(i));
        }
    }
    if (edges->IsEmpty()) {
        return rg_fail("the faces close by themselves");
    }
    ShapeAnalysis_FreeBounds::ConnectEdgesToWires(edges, 1e-6, true, wires);
    for (const TopoDS_Shape& wire : *wires) {
        if (!BRep_Tool::IsClosed(wire)) {
            return rg_fail("the rim of the faces does not close");
        }
        TopoDS_Face beside;
        for (TopExp_Explorer it(wire, TopAbs_EDGE); it.More(); it.Next()) {
            for (const TopoDS_Shape& face : on.FindFromKey(it.Current())) {
                if (picked.Contains(face)) {
                    continue;
                }
                if (beside.IsNull()) {
                    beside = TopoDS::Face(face);
                } else if (!same_surface(beside, TopoDS::Face(face))) {
                    return rg_fail("the rim of the faces runs over several faces");
                }
            }
        }
        rims.push_back({TopoDS::Wire(wire), beside, size_of(wire)});
    }
    std::sort(rims.begin(), rims.end(), [](const Rim& a, const Rim& b) { return a.size > b.size; });
    return 0;
}

// A cap on the surface beside, with the rims inside it as its holes; takes them out of the list.
TopoDS_Face make_cap(std::vector<Rim>& rims) {
    const Rim outer = rims.front();
    rims.erase(rims.begin());
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(outer.beside);
    BRepBuilderAPI_MakeFace made(surface, outer.wire, true);
    if (!made.IsDone()) {
        return TopoDS_Face();
    }
    ShapeFix_Face fix(made.Face());
    fix.FixOrientation();
    TopoDS_Face cap = fix.Face();
    for (size_t i = 0; i < rims.size();) {
        const TopoDS_Vertex corner = TopoDS::Vertex(TopExp_Explorer(rims[i].wire, TopAbs_VERTEX).Current());
        const BRepAdaptor_Surface flat(outer.beside, false);
        if (flat.GetType() != GeomAbs_Plane || !same_surface(outer.beside, rims[i].beside)) {
            i++;
            continue;
        }
        double u, v;
        const BRepAdaptor_Surface own(cap, false);
        ElSLib::Parameters(own.Plane(), BRep_Tool::Pnt(corner), u, v);
        if (BRepTopAdaptor_FClass2d(cap, 1e-7).Perform(gp_Pnt2d(u, v)) != TopAbs_IN) {
            i++;
            continue;
        }
        BRepBuilderAPI_MakeFace with(cap);
        with.Add(rims[i].wire);
        ShapeFix_Face holes(with.Face());
        holes.FixOrientation();
        cap = holes.Face();
        rims.erase(rims.begin() + static_cast<long>(i));
    }
    return cap;
}

// Whether the outside of a face of the body is inside the solid: the faces are those of a pocket.
bool hollow(const TopoDS_Face& face, const TopoDS_Solid& solid, double size) {
    BRepGProp_Face surface(face);
    double u1, u2, v1, v2;
    surface.Bounds(u1, u2, v1, v2);
    BRepTopAdaptor_FClass2d inside(face, 1e-7);
    for (int i = 1; i < 16; i++) {
        for (int j = 1; j < 16; j++) {
            const gp_Pnt2d at(u1 + (u2 - u1) * i / 16, v1 + (v2 - v1) * j / 16);
            if (inside.Perform(at) != TopAbs_IN) {
                continue;
            }
            gp_Pnt place;
            gp_Vec normal;
            surface.Normal(at.X(), at.Y(), place, normal);
            BRepClass3d_SolidClassifier where(solid, place.Translated(normal.Normalized() * (size * 1e-4)), 1e-7);
            return where.State() == TopAbs_IN;
        }
    }
    return false;
}

}  // namespace

RG_API int32_t rg_plug(const rg_shape* s, const int32_t* faces, int32_t count, int32_t* adds, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        TopTools_MapOfShape picked;
        BRepBuilderAPI_Sewing sewing(1e-6);
        for (int32_t i = 0; i < count; i++) {
            picked.Add(s->faces(faces[i] + 1));
            sewing.Add(s->faces(faces[i] + 1));
        }
        std::vector<Rim> rims;
        if (find_rims(s, picked, rims) != 0) {
            return 1;
        }
        std::vector<TopoDS_Face> caps;
        while (!rims.empty()) {
            caps.push_back(make_cap(rims));
            if (caps.back().IsNull()) {
                return rg_fail("the rim of the faces cannot be closed");
            }
            sewing.Add(caps.back());
        }
        sewing.Perform();
        TopExp_Explorer shell(sewing.SewedShape(), TopAbs_SHELL);
        if (!shell.More() || !BRep_Tool::IsClosed(shell.Current())) {
            return rg_fail("the rim of the faces cannot be closed");
        }
        TopoDS_Solid solid = BRepBuilderAPI_MakeSolid(TopoDS::Shell(shell.Current()));
        if (!BRepLib::OrientClosedSolid(solid)) {
            return rg_fail("the rim of the faces cannot be closed");
        }
        *adds = hollow(TopoDS::Face(s->faces(faces[0] + 1)), solid, size_of(solid)) ? 0 : 1;
        Origins origins(solid);
        for (int32_t i = 0; i < count; i++) {
            origins.note(sewing.IsModified(s->faces(faces[i] + 1)) ? sewing.Modified(s->faces(faces[i] + 1)) : s->faces(faces[i] + 1), 0, 0, faces[i]);
        }
        for (const TopoDS_Face& cap : caps) {
            origins.note(sewing.IsModified(cap) ? sewing.Modified(cap) : cap, 0, 6, 0);
        }
        return origins.release(result);
    });
}
