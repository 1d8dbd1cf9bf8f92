// Where a face bends most, within its outline.
#include "shape.h"

#include <BRepAdaptor_Curve2d.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepLProp_SLProps.hxx>
#include <BRepTools.hxx>
#include <BRepTopAdaptor_FClass2d.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <algorithm>
#include <array>
#include <cmath>

namespace {

// Places looked at along each way of the face and along each of its edges, and how often the best is brought in.
constexpr int across = 48, along_edge = 64, halvings = 40;
constexpr double flat = 1e-9;

class Bends {
public:
    explicit Bends(const TopoDS_Face& face) : surface(face), within(face, 1e-9), face(face) { BRepTools::UVBounds(face, low[0], high[0], low[1], high[1]); }

    void look() {
        for (int i = 0; i <= across; i++) {
            for (int j = 0; j <= across; j++) {
                offer({low[0] + (high[0] - low[0]) * i / across, low[1] + (high[1] - low[1]) * j / across});
            }
        }
        for (TopExp_Explorer it(face, TopAbs_EDGE); it.More(); it.Next()) {
            const BRepAdaptor_Curve2d edge(TopoDS::Edge(it.Current()), face);
            for (int i = 0; i <= along_edge; i++) {
                const gp_Pnt2d at = edge.Value(edge.FirstParameter() + (edge.LastParameter() - edge.FirstParameter()) * i / along_edge);
                take({at.X(), at.Y()});
            }
        }
        refine();
    }

    double curvature = 0;
    gp_Pnt place;

private:
    using At = std::array<double, 2>;

    bool offer(const At& at) { return take(at, false); }

    // A place on the outline needs no looking up; of the others only those that bend more.
    bool take(const At& at, bool on_outline = true) {
        BRepLProp_SLProps p(surface, at[0], at[1], 2, 1e-12);
        if (!p.IsCurvatureDefined()) {
            return false;
        }
        const double now = std::max(std::abs(p.MaxCurvature()), std::abs(p.MinCurvature()));
        if (!(now > curvature * (1 + 1e-12)) || (!on_outline && within.Perform(gp_Pnt2d(at[0], at[1])) == TopAbs_OUT)) {
            return false;
        }
        curvature = now;
        place = p.Value();
        best = at;
        return true;
    }

    // Steps both ways in both parameters, halved where none is better.
    void refine() {
        At step = {(high[0] - low[0]) / across, (high[1] - low[1]) / across};
        for (int i = 0; i < halvings; i++) {
            bool better = true;
            for (int tries = 0; better && tries < 64; tries++) {
                better = false;
                for (int way = 0; way < 2; way++) {
                    for (const double sign : {-1.0, 1.0}) {
                        At next = best;
                        next[way] += sign * step[way];
                        better = offer(next) || better;
                    }
                }
            }
            step = {step[0] / 2, step[1] / 2};
        }
    }

    BRepAdaptor_Surface surface;
    BRepTopAdaptor_FClass2d within;
    TopoDS_Face face;
    At low{}, high{}, best{};
};

}  // namespace

RG_API int32_t rg_bend(const rg_shape* s, int32_t face, double* four) {
    return rg_guard([&]() -> int32_t {
        const TopoDS_Face at = TopoDS::Face(s->faces(face + 1));
        if (BRepAdaptor_Surface(at, false).GetType() == GeomAbs_Plane) {
            std::fill(four, four + 4, 0.0);
            return 0;
        }
        Bends bends(at);
        bends.look();
        const double all[4] = {bends.curvature < flat ? 0 : 1 / bends.curvature, bends.place.X(), bends.place.Y(), bends.place.Z()};
        std::copy(all, all + 4, four);
        return 0;
    });
}
