#include "progress.h"
#include "refine.h"
#include "shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepMesh_Context.hxx>
#include <BRepMesh_DelabellaMeshAlgoFactory.hxx>
#include <BRepMesh_FaceDiscret.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_TangentialDeflection.hxx>
#include <OSD_Parallel.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS.hxx>
#include <algorithm>
#include <memory>

struct rg_mesh {
    std::vector<float> positions, normals, edge_points;
    std::vector<uint32_t> triangles;
    std::vector<int32_t> face_triangles, edge_counts;
};

namespace {

constexpr double angular_deviation = 0.25, angular_deviation_coarse = 0.5;

void push(std::vector<float>& to, const gp_XYZ& v) {
    to.push_back(static_cast<float>(v.X()));
    to.push_back(static_cast<float>(v.Y()));
    to.push_back(static_cast<float>(v.Z()));
}

gp_Vec normal_at(const BRepAdaptor_Surface& surface, const gp_Pnt2d& uv) {
    gp_Pnt p;
    gp_Vec du, dv;
    surface.D1(uv.X(), uv.Y(), p, du, dv);
    return du.Crossed(dv);
}

void add_face(const TopoDS_Face& face, rg_mesh& mesh) {
    TopLoc_Location location;
    const Handle(Poly_Triangulation) triangulation = BRep_Tool::Triangulation(face, location);
    if (triangulation.IsNull()) {
        mesh.face_triangles.push_back(0);
        return;
    }
    const bool reversed = face.Orientation() == TopAbs_REVERSED;
    const auto first = static_cast<uint32_t>(mesh.positions.size() / 3);
    const BRepAdaptor_Surface surface(face, false);
    for (int i = 1; i <= triangulation->NbNodes(); i++) {
        push(mesh.positions, triangulation->Node(i).Transformed(location).XYZ());
        gp_Vec normal = triangulation->HasUVNodes() ? normal_at(surface, triangulation->UVNode(i)) : gp_Vec(0, 0, 0);
        if (normal.Magnitude() > 1e-12) {
            normal.Normalize();
        }
        push(mesh.normals, (reversed ? -normal : normal).XYZ());
    }
    for (int i = 1; i <= triangulation->NbTriangles(); i++) {
        int a, b, c;
        triangulation->Triangle(i).Get(a, b, c);
        if (reversed) {
            std::swap(b, c);
        }
        mesh.triangles.push_back(first + static_cast<uint32_t>(a - 1));
        mesh.triangles.push_back(first + static_cast<uint32_t>(b - 1));
        mesh.triangles.push_back(first + static_cast<uint32_t>(c - 1));
    }
    mesh.face_triangles.push_back(triangulation->NbTriangles());
}

// The edges where a closed face meets itself.
TopTools_MapOfShape seams_of(const rg_shape* s) {
    TopTools_MapOfShape seams;
    for (int i = 1; i <= s->faces.Extent(); i++) {
        const TopoDS_Face face = TopoDS::Face(s->faces(i));
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
            if (BRep_Tool::IsClosed(TopoDS::Edge(it.Current()), face)) {
                seams.Add(it.Current());
            }
        }
    }
    return seams;
}

void add_edge(const TopTools_MapOfShape& seams, const TopoDS_Edge& edge, double deviation, double turn, rg_mesh& mesh) {
    if (BRep_Tool::Degenerated(edge) || seams.Contains(edge)) {
        mesh.edge_counts.push_back(0);
        return;
    }
    const BRepAdaptor_Curve curve(edge);
    const GCPnts_TangentialDeflection points(curve, turn / 2, deviation);
    for (int i = 1; i <= points.NbPoints(); i++) {
        push(mesh.edge_points, points.Value(i).XYZ());
    }
    mesh.edge_counts.push_back(points.NbPoints());
}

// The faces that have no triangles as fine as these; they are looked up before, to be forgotten afterwards.
std::vector<TopoDS_Face> rougher_than(const rg_shape* s, double deviation) {
    std::vector<TopoDS_Face> rougher;
    for (int i = 1; i <= s->faces.Extent(); i++) {
        TopLoc_Location location;
        const TopoDS_Face face = TopoDS::Face(s->faces(i));
        const Handle(Poly_Triangulation) triangulation = BRep_Tool::Triangulation(face, location);
        if (triangulation.IsNull() || triangulation->Deflection() > deviation / 2) {
            rougher.push_back(face);
        }
    }
    return rougher;
}

// Faces that are one shape in several places have one set of triangles.
void refine_all(const rg_shape* s, double deviation) {
    std::vector<TopoDS_Face> faces;
    TopTools_MapOfShape seen;
    for (int i = 1; i <= s->faces.Extent(); i++) {
        if (seen.Add(s->faces(i).Located(TopLoc_Location()).Oriented(TopAbs_FORWARD))) {
            faces.push_back(TopoDS::Face(s->faces(i)));
        }
    }
    OSD_Parallel::For(0, static_cast<int>(faces.size()), [&faces, deviation](int i) { refine(faces[i], deviation); });
}

}  // namespace

RG_API void rg_mesh_free(rg_mesh* mesh) { delete mesh; }

RG_API int32_t rg_mesh_make(const rg_shape* s, double deviation, int32_t coarse, rg_mesh** mesh) {
    return rg_guard([&]() -> int32_t {
        const double turn = coarse != 0 ? angular_deviation_coarse : angular_deviation;
        const std::vector<TopoDS_Face> passing = coarse != 0 ? rougher_than(s, deviation) : std::vector<TopoDS_Face>();
        // Faces that an earlier body had too keep their triangles.
        BRepMesh_IncrementalMesh made;
        made.SetShape(s->shape);
        made.ChangeParameters().Deflection = deviation;
        made.ChangeParameters().Angle = turn;
        made.ChangeParameters().InParallel = true;
        const Handle(Progress) progress = new Progress(0, 1);
        // Convex hulls of lifted points take a third of the time that putting in point by point does.
        const Handle(BRepMesh_Context) context = new BRepMesh_Context();
        context->SetFaceDiscret(new BRepMesh_FaceDiscret(new BRepMesh_DelabellaMeshAlgoFactory()));
        made.Perform(context, progress->Start());
        // What got no triangles is tried once more, finer and by itself.
        for (int i = 1; i <= s->faces.Extent(); i++) {
            TopLoc_Location location;
            const TopoDS_Face face = TopoDS::Face(s->faces(i));
            const Handle(Poly_Triangulation) triangulation = BRep_Tool::Triangulation(face, location);
            if (triangulation.IsNull() || triangulation->NbTriangles() == 0) {
                BRepMesh_IncrementalMesh(face, deviation / 8, false, angular_deviation / 4, false);
            }
        }
        if (coarse == 0) {
            refine_all(s, deviation);
        }
        auto out = std::make_unique<rg_mesh>();
        const TopTools_MapOfShape seams = seams_of(s);
        for (int i = 1; i <= s->faces.Extent(); i++) {
            add_face(TopoDS::Face(s->faces(i)), *out);
        }
        for (int i = 1; i <= s->edges.Extent(); i++) {
            add_edge(seams, TopoDS::Edge(s->edges(i)), deviation, turn, *out);
        }
        for (const TopoDS_Face& face : passing) {
            BRepTools::Clean(face);
        }
        *mesh = out.release();
        return 0;
    });
}

RG_API void rg_mesh_counts(const rg_mesh* mesh, int32_t* three) {
    three[0] = static_cast<int32_t>(mesh->positions.size() / 3);
    three[1] = static_cast<int32_t>(mesh->triangles.size() / 3);
    three[2] = static_cast<int32_t>(mesh->edge_points.size() / 3);
}

RG_API void rg_mesh_read(const rg_mesh* mesh, float* positions, float* normals, uint32_t* triangles, int32_t* face_triangles, float* edge_points, int32_t* edge_counts) {
    std::copy(mesh->positions.begin(), mesh->positions.end(), positions);
    std::copy(mesh->normals.begin(), mesh->normals.end(), normals);
    std::copy(mesh->triangles.begin(), mesh->triangles.end(), triangles);
    std::copy(mesh->face_triangles.begin(), mesh->face_triangles.end(), face_triangles);
    std::copy(mesh->edge_points.begin(), mesh->edge_points.end(), edge_points);
    std::copy(mesh->edge_counts.begin(), mesh->edge_counts.end(), edge_counts);
}

RG_API int32_t rg_mesh_deviation(const rg_shape* s, double* deviation) {
    return rg_guard([&]() -> int32_t {
        *deviation = 0;
        for (int f = 1; f <= s->faces.Extent(); f++) {
            const TopoDS_Face face = TopoDS::Face(s->faces(f));
            TopLoc_Location location;
            const Handle(Poly_Triangulation) triangulation = BRep_Tool::Triangulation(face, location);
            const BRepAdaptor_Surface surface(face, false);
            if (triangulation.IsNull() || !triangulation->HasUVNodes() || surface.GetType() == GeomAbs_Plane) {
                continue;
            }
            for (int t = 1; t <= triangulation->NbTriangles(); t++) {
                int n[3];
                triangulation->Triangle(t).Get(n[0], n[1], n[2]);
                gp_XYZ corner[3];
                gp_XY at[3];
                for (int k = 0; k < 3; k++) {
                    corner[k] = triangulation->Node(n[k]).Transformed(location).XYZ();
                    at[k] = triangulation->UVNode(n[k]).XY();
                }
                const double shares[4][3] = {{1.0 / 3, 1.0 / 3, 1.0 / 3}, {0.5, 0.5, 0}, {0, 0.5, 0.5}, {0.5, 0, 0.5}};
                for (const auto& w : shares) {
                    const gp_XYZ flat = corner[0] * w[0] + corner[1] * w[1] + corner[2] * w[2];
                    const gp_XY uv = at[0] * w[0] + at[1] * w[1] + at[2] * w[2];
                    *deviation = std::max(*deviation, away_from(surface, gp_Pnt(flat), gp_Pnt2d(uv)));
                }
            }
        }
        return 0;
    });
}
