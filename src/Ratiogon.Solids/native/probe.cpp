#include "shape.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepClass3d_SolidClassifier.hxx>
#include <BRepLProp_SLProps.hxx>
#include <Bnd_Box.hxx>
#include <IntCurvesFace_ShapeIntersector.hxx>
#include <TopoDS.hxx>
#include <gp_Lin.hxx>
#include <algorithm>
#include <cmath>
#include <memory>

namespace {

struct Crossing {
    double at;
    int32_t face;
    gp_Vec normal;
};

thread_local std::vector<double> found;

gp_Vec outward(const TopoDS_Face& face, double u, double v) {
    const BRepAdaptor_Surface surface(face, false);
    BRepLProp_SLProps properties(surface, u, v, 1, 1e-9);
    if (!properties.IsNormalDefined()) {
        return gp_Vec(0, 0, 0);
    }
    gp_Vec normal(properties.Normal());
    return face.Orientation() == TopAbs_REVERSED ? normal.Reversed() : normal;
}

// Whether the line goes in and out by turns, each time clearly: then the normals say where the material is.
bool alternates(const std::vector<Crossing>& crossings, const gp_Vec& way) {
    for (size_t i = 0; i < crossings.size(); i++) {
        const double turn = crossings[i].normal.Dot(way);
        if (std::abs(turn) < 1e-3 || (turn < 0) != (i % 2 == 0) || (i > 0 && crossings[i].at - crossings[i - 1].at < 1e-5)) {
            return false;
        }
    }
    return crossings.size() % 2 == 0;
}

void put(const Crossing& c) {
    found.insert(found.end(), {c.at, static_cast<double>(c.face), c.normal.X(), c.normal.Y(), c.normal.Z()});
}

}  // namespace

RG_API int32_t rg_probe(const rg_shape* s, const double* l, int32_t* count) {
    return rg_guard([&]() -> int32_t {
        const gp_Lin line(gp_Pnt(l[0], l[1], l[2]), gp_Dir(l[3], l[4], l[5]));
        if (!s->lines) {
            s->lines = std::make_unique<IntCurvesFace_ShapeIntersector>();
            s->lines->Load(s->shape, 1e-7);
        }
        IntCurvesFace_ShapeIntersector& meet = *s->lines;
        meet.Perform(line, -1e6, 1e6);
        std::vector<Crossing> crossings;
        for (int i = 1; i <= meet.NbPnt(); i++) {
            crossings.push_back({meet.WParameter(i), s->faces.FindIndex(meet.Face(i)) - 1, outward(meet.Face(i), meet.UParameter(i), meet.VParameter(i))});
        }
        std::sort(crossings.begin(), crossings.end(), [](const Crossing& a, const Crossing& b) { return a.at < b.at; });
        found.clear();
        std::unique_ptr<BRepClass3d_SolidClassifier> inside;
        const gp_Vec way(line.Direction());
        const bool plain = alternates(crossings, way);
        const Crossing* began = nullptr;
        for (size_t i = 0; i + 1 < crossings.size(); i++) {
            const Crossing &here = crossings[i], &next = crossings[i + 1];
            if (next.at - here.at < 1e-6) {
                continue;
            }
            bool material = plain && here.normal.Dot(way) < 0;
            if (!plain) {
                if (!inside) {
                    inside = std::make_unique<BRepClass3d_SolidClassifier>(s->shape);
                }
                inside->Perform(line.Location().Translated(way * ((here.at + next.at) / 2)), 1e-7);
                material = inside->State() == TopAbs_IN || inside->State() == TopAbs_ON;
            }
            if (material && !began) {
                began = &here;
            }
            if (began && (!material || i + 2 == crossings.size())) {
                put(*began);
                put(material ? next : here);
                began = nullptr;
            }
        }
        if (began) {
            put(*began);
            put(crossings.back());
        }
        *count = static_cast<int32_t>(found.size() / 10);
        return 0;
    });
}

RG_API void rg_probe_read(double* ten_each) { std::copy(found.begin(), found.end(), ten_each); }
