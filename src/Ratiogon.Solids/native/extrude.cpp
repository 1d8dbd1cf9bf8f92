#include "profile.h"
#include "trace.h"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <gp_Pln.hxx>
#include <gp_Ax1.hxx>
#include <cmath>
#include <type_traits>

namespace {

// Faces that the library gives no origin for (flat ones that reach the axis): by the edge that lies in their plane.
void note_by_place(Origins& origins, const rg_profile* profile) {
    for (const TopoDS_Shape& face : origins.unknown()) {
        const BRepAdaptor_Surface surface(TopoDS::Face(face), false);
        for (size_t i = 0; surface.GetType() == GeomAbs_Plane && i < profile->edges.size(); i++) {
            const BRepAdaptor_Curve curve(profile->edges[i]);
            const double from = curve.FirstParameter(), to = curve.LastParameter();
            if (surface.Plane().Distance(curve.Value(from)) < 1e-6 && surface.Plane().Distance(curve.Value(to)) < 1e-6) {
                origins.note(face, 0, 1, static_cast<int32_t>(i));
                break;
            }
        }
    }
}

// Sides by the edges of the profile, caps by its regions.
template <typename Sweep>
int32_t swept(Sweep& sweep, const rg_profile* profile, bool capped, rg_result** result) {
    if (!sweep.IsDone()) {
        return rg_fail("the profile could not be swept");
    }
    Origins origins(sweep.Shape());
    for (size_t i = 0; i < profile->edges.size(); i++) {
        origins.note(sweep.Generated(profile->edges[i]), 0, 1, static_cast<int32_t>(i));
    }
    if (std::is_same_v<Sweep, BRepPrimAPI_MakeRevol> && !capped) {
        note_by_place(origins, profile);
    }
    for (size_t i = 0; capped && i < profile->faces.size(); i++) {
        origins.note(sweep.FirstShape(profile->faces[i]), 0, 2, static_cast<int32_t>(i));
        origins.note(sweep.LastShape(profile->faces[i]), 0, 3, static_cast<int32_t>(i));
    }
    return origins.release(result);
}

}  // namespace

RG_API int32_t rg_prism(const rg_profile* profile, const double* v, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRepPrimAPI_MakePrism prism(profile->compound, gp_Vec(v[0], v[1], v[2]));
        return swept(prism, profile, true, result);
    });
}

RG_API int32_t rg_revolve(const rg_profile* profile, const double* a, double angle, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        const gp_Ax1 axis(gp_Pnt(a[0], a[1], a[2]), gp_Dir(a[3], a[4], a[5]));
        const bool full = std::abs(angle) >= 2 * M_PI - 1e-9;
        if (full) {
            BRepPrimAPI_MakeRevol turn(profile->compound, axis);
            return swept(turn, profile, false, result);
        }
        BRepPrimAPI_MakeRevol turn(profile->compound, axis, angle);
        return swept(turn, profile, true, result);
    });
}
