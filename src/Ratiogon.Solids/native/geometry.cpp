#include "shape.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <GeomConvert.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <Geom_RectangularTrimmedSurface.hxx>
#include <Geom_TrimmedCurve.hxx>
#include <TopoDS.hxx>
#include <gp_Circ.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Elips.hxx>
#include <gp_Sphere.hxx>
#include <gp_Torus.hxx>
#include <cmath>

namespace {

using Numbers = std::vector<double>;

void add(Numbers& to, const gp_XYZ& v) {
    to.insert(to.end(), {v.X(), v.Y(), v.Z()});
}

// Knots with repetitions written out.
template <typename Knot, typename Times>
void add_knots(Numbers& to, int count, Knot knot, Times times) {
    for (int i = 1; i <= count; i++) {
        to.insert(to.end(), static_cast<size_t>(times(i)), knot(i));
    }
}

void spline_surface(const TopoDS_Face& face, Numbers& out) {
    double u1, u2, v1, v2;
    BRepTools::UVBounds(face, u1, u2, v1, v2);
    Handle(Geom_Surface) trimmed = new Geom_RectangularTrimmedSurface(BRep_Tool::Surface(face), u1, u2, v1, v2);
    Handle(Geom_BSplineSurface) s = GeomConvert::SurfaceToBSplineSurface(trimmed);
    s->SetUNotPeriodic();
    s->SetVNotPeriodic();
    const bool rational = s->IsURational() || s->IsVRational();
    const int nu = s->NbUPoles(), nv = s->NbVPoles();
    out.insert(out.end(), {double(s->UDegree()), double(s->VDegree()), double(nu), double(nv), rational ? 1.0 : 0.0});
    add_knots(out, s->NbUKnots(), [&](int i) { return s->UKnot(i); }, [&](int i) { return s->UMultiplicity(i); });
    add_knots(out, s->NbVKnots(), [&](int i) { return s->VKnot(i); }, [&](int i) { return s->VMultiplicity(i); });
    for (int i = 1; i <= nu; i++) {
        for (int j = 1; j <= nv; j++) {
            add(out, s->Pole(i, j).XYZ());
        }
    }
    for (int i = 1; rational && i <= nu; i++) {
        for (int j = 1; j <= nv; j++) {
            out.push_back(s->Weight(i, j));
        }
    }
}

void face_geometry(const TopoDS_Face& face, Numbers& out) {
    // The bounds of a flat face with many outlines take long to find, and nobody needs a place on it.
    BRepAdaptor_Surface surface(face, false);
    const bool flat = surface.GetType() == GeomAbs_Plane;
    if (!flat) {
        surface.Initialize(face);
    }
    gp_Pnt at;
    gp_Vec du, dv;
    surface.D1(flat ? 0 : (surface.FirstUParameter() + surface.LastUParameter()) / 2, flat ? 0 : (surface.FirstVParameter() + surface.LastVParameter()) / 2, at, du, dv);
    gp_Vec normal = du.Crossed(dv);
    if (normal.Magnitude() > 0) {
        normal.Normalize();
    }
    if (face.Orientation() == TopAbs_REVERSED) {
        normal.Reverse();
    }
    add(out, at.XYZ());
    add(out, normal.XYZ());
    switch (surface.GetType()) {
        case GeomAbs_Plane:
            break;
        case GeomAbs_Cylinder:
            add(out, surface.Cylinder().Location().XYZ());
            add(out, surface.Cylinder().Axis().Direction().XYZ());
            out.push_back(surface.Cylinder().Radius());
            break;
        case GeomAbs_Cone: {
            const gp_Cone cone = surface.Cone();
            gp_Dir into = cone.Axis().Direction();
            if (gp_Vec(cone.Apex(), at).Dot(gp_Vec(into)) < 0) {
                into.Reverse();
            }
            add(out, cone.Apex().XYZ());
            add(out, into.XYZ());
            out.push_back(std::abs(cone.SemiAngle()));
            break;
        }
        case GeomAbs_Sphere:
            add(out, surface.Sphere().Location().XYZ());
            out.push_back(surface.Sphere().Radius());
            break;
        case GeomAbs_Torus:
            add(out, surface.Torus().Location().XYZ());
            add(out, surface.Torus().Axis().Direction().XYZ());
            out.push_back(surface.Torus().MajorRadius());
            out.push_back(surface.Torus().MinorRadius());
            break;
        default: {
            // What cannot be turned into a spline stays what it is: a face of which a place and its normal are known.
            const size_t known = out.size();
            try {
                spline_surface(face, out);
            } catch (const Standard_Failure&) {
                out.resize(known);
            }
        }
    }
}

void edge_geometry(const TopoDS_Edge& edge, Numbers& out) {
    if (BRep_Tool::Degenerated(edge)) {
        return;
    }
    const BRepAdaptor_Curve curve(edge);
    const double from = curve.FirstParameter(), to = curve.LastParameter();
    switch (curve.GetType()) {
        case GeomAbs_Line:
            add(out, curve.Value(from).XYZ());
            add(out, curve.Value(to).XYZ());
            break;
        case GeomAbs_Circle: {
            const gp_Circ c = curve.Circle();
            add(out, c.Location().XYZ());
            add(out, c.XAxis().Direction().XYZ() * c.Radius());
            add(out, c.YAxis().Direction().XYZ() * c.Radius());
            out.insert(out.end(), {from, to});
            break;
        }
        case GeomAbs_Ellipse: {
            const gp_Elips e = curve.Ellipse();
            add(out, e.Location().XYZ());
            add(out, e.XAxis().Direction().XYZ() * e.MajorRadius());
            add(out, e.YAxis().Direction().XYZ() * e.MinorRadius());
            out.insert(out.end(), {from, to});
            break;
        }
        default: {
            double first, last;
            const Handle(Geom_Curve) whole = BRep_Tool::Curve(edge, first, last);
            Handle(Geom_BSplineCurve) s;
            try {
                s = GeomConvert::CurveToBSplineCurve(new Geom_TrimmedCurve(whole, first, last));
            } catch (const Standard_Failure&) {
                return;
            }
            s->SetNotPeriodic();
            out.insert(out.end(), {double(s->Degree()), double(s->NbPoles()), s->IsRational() ? 1.0 : 0.0});
            add_knots(out, s->NbKnots(), [&](int i) { return s->Knot(i); }, [&](int i) { return s->Multiplicity(i); });
            for (int i = 1; i <= s->NbPoles(); i++) {
                add(out, s->Pole(i).XYZ());
            }
            for (int i = 1; s->IsRational() && i <= s->NbPoles(); i++) {
                out.push_back(s->Weight(i));
            }
        }
    }
}

thread_local Numbers last;

}  // namespace

RG_API int32_t rg_geometry_find(const rg_shape* s, int32_t kind, int32_t index, int32_t* count) {
    return rg_guard([&]() -> int32_t {
        last.clear();
        if (kind == 1) {
            face_geometry(TopoDS::Face(s->faces(index + 1)), last);
        } else {
            edge_geometry(TopoDS::Edge(s->edges(index + 1)), last);
        }
        *count = static_cast<int32_t>(last.size());
        return 0;
    });
}

RG_API void rg_geometry_read(double* numbers) {
    std::copy(last.begin(), last.end(), numbers);
}
