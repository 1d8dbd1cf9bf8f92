#include "refine.h"

#include <BRepAdaptor_Surface.hxx>
#include <BRep_Tool.hxx>
#include <Poly_Triangulation.hxx>
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <unordered_map>
#include <vector>

namespace {

constexpr int most_rounds = 24;
constexpr size_t most_triangles = 4000000;

// What was looked at says so by its deflection: a little less than was asked for, which no other triangles have.
constexpr double looked_at = 0.9990234375;

struct Corner {
    gp_Pnt place;
    gp_Pnt2d at;
};

using Triangle = std::array<int, 3>;

uint64_t side_key(int a, int b) { return (static_cast<uint64_t>(std::min(a, b)) << 32) | static_cast<uint32_t>(std::max(a, b)); }

class Refining {
public:
    Refining(const BRepAdaptor_Surface& s, double d, std::vector<Corner> c, std::vector<Triangle> t)
        : surface(s), deviation(d), corners(std::move(c)), triangles(std::move(t)) {}

    std::vector<Corner> corners_now() && { return std::move(corners); }
    const std::vector<Triangle>& triangles_now() const { return triangles; }

    // Whether anything was cut.
    bool run() {
        bool cut = false;
        std::vector<Triangle> suspects = triangles;
        for (int round = 0; round < most_rounds && !suspects.empty() && triangles.size() < most_triangles; round++) {
            count_sides();
            mark(suspects);
            if (middles.empty() && hearts.empty()) {
                break;
            }
            suspects = split();
            cut = true;
        }
        return cut;
    }

private:
    const BRepAdaptor_Surface& surface;
    const double deviation;
    std::vector<Corner> corners;
    std::vector<Triangle> triangles;
    // Sides of two triangles: the others bound the face.
    std::unordered_map<uint64_t, int> sides;
    // New corners, by the sides that they cut, and by the first two corners of triangles that all sides of are bounds.
    std::unordered_map<uint64_t, int> middles;
    std::unordered_map<uint64_t, Corner> hearts;

    void count_sides() {
        sides.clear();
        sides.reserve(triangles.size() * 2);
        for (const Triangle& t : triangles) {
            for (int k = 0; k < 3; k++) {
                sides[side_key(t[k], t[(k + 1) % 3])]++;
            }
        }
    }

    bool within(int a, int b) const { return sides.at(side_key(a, b)) == 2; }

    bool strays(const gp_XYZ& place, const gp_XY& at) const { return away_from(surface, gp_Pnt(place), gp_Pnt2d(at)) > deviation; }

    double length(int a, int b) const { return corners[a].place.SquareDistance(corners[b].place); }

    void cut_side(int a, int b) {
        const auto [found, fresh] = middles.try_emplace(side_key(a, b), 0);
        if (fresh) {
            found->second = static_cast<int>(corners.size());
            const gp_XY at = (corners[a].at.XY() + corners[b].at.XY()) / 2;
            corners.push_back({surface.Value(at.X(), at.Y()), gp_Pnt2d(at)});
        }
    }

    // Sides whose middle strays are cut; of a triangle whose heart alone strays the longest that may be.
    void mark(const std::vector<Triangle>& suspects) {
        middles.clear();
        hearts.clear();
        std::unordered_map<uint64_t, bool> looked;
        for (const Triangle& t : suspects) {
            bool marked = false;
            int longest = -1;
            for (int k = 0; k < 3; k++) {
                const int a = t[k], b = t[(k + 1) % 3];
                if (!within(a, b)) {
                    continue;
                }
                if (longest < 0 || length(a, b) > length(t[longest], t[(longest + 1) % 3])) {
                    longest = k;
                }
                const auto [known, fresh] = looked.try_emplace(side_key(a, b), false);
                if (fresh) {
                    known->second = strays((corners[a].place.XYZ() + corners[b].place.XYZ()) / 2, (corners[a].at.XY() + corners[b].at.XY()) / 2);
                }
                if (known->second) {
                    cut_side(a, b);
                    marked = true;
                }
            }
            const gp_XY heart = (corners[t[0]].at.XY() + corners[t[1]].at.XY() + corners[t[2]].at.XY()) / 3;
            if (marked || !strays((corners[t[0]].place.XYZ() + corners[t[1]].place.XYZ() + corners[t[2]].place.XYZ()) / 3, heart)) {
                continue;
            }
            if (longest >= 0) {
                cut_side(t[longest], t[(longest + 1) % 3]);
            } else {
                hearts[side_key(t[0], t[1])] = {surface.Value(heart.X(), heart.Y()), gp_Pnt2d(heart)};
            }
        }
    }

    int middle(int a, int b) const {
        const auto found = middles.find(side_key(a, b));
        return found == middles.end() ? -1 : found->second;
    }

    // The triangles with their marked sides cut; returns those that are new.
    std::vector<Triangle> split() {
        std::vector<Triangle> next, fresh;
        next.reserve(triangles.size() + 2 * middles.size());
        for (const Triangle& t : triangles) {
            const size_t first = fresh.size();
            split_one(t, fresh);
            if (fresh.size() == first) {
                next.push_back(t);
            } else {
                next.insert(next.end(), fresh.begin() + static_cast<std::ptrdiff_t>(first), fresh.end());
            }
        }
        triangles = std::move(next);
        return fresh;
    }

    void split_one(const Triangle& t, std::vector<Triangle>& into) {
        int m[3];
        int cut = 0, at = 0;
        for (int k = 0; k < 3; k++) {
            m[k] = middle(t[k], t[(k + 1) % 3]);
            cut += m[k] >= 0 ? 1 : 0;
        }
        const auto heart = hearts.empty() ? hearts.end() : hearts.find(side_key(t[0], t[1]));
        if (cut == 3) {
            into.insert(into.end(), {{t[0], m[0], m[2]}, {m[0], t[1], m[1]}, {m[2], m[1], t[2]}, {m[0], m[1], m[2]}});
        } else if (cut == 2) {
            // From the side that is whole: the four corners left are cut by the shorter way across.
            while (m[at] >= 0) {
                at++;
            }
            const int a = t[at], b = t[(at + 1) % 3], c = t[(at + 2) % 3], near_b = m[(at + 1) % 3], near_a = m[(at + 2) % 3];
            into.push_back({near_b, c, near_a});
            if (length(a, near_b) < length(b, near_a)) {
                into.insert(into.end(), {{a, b, near_b}, {a, near_b, near_a}});
            } else {
                into.insert(into.end(), {{a, b, near_a}, {b, near_b, near_a}});
            }
        } else if (cut == 1) {
            while (m[at] < 0) {
                at++;
            }
            const int a = t[at], b = t[(at + 1) % 3], c = t[(at + 2) % 3];
            into.insert(into.end(), {{a, m[at], c}, {m[at], b, c}});
        } else if (heart != hearts.end()) {
            const int h = static_cast<int>(corners.size());
            corners.push_back(heart->second);
            into.insert(into.end(), {{t[0], t[1], h}, {t[1], t[2], h}, {t[2], t[0], h}});
        }
    }
};

}  // namespace

double away_from(const BRepAdaptor_Surface& surface, const gp_Pnt& place, gp_Pnt2d at) {
    // The place on a triangle and the one on the face need not have quite the same parameters: two steps towards the nearest.
    gp_Pnt on;
    gp_Vec du, dv;
    surface.D1(at.X(), at.Y(), on, du, dv);
    double away = on.Distance(place);
    for (int step = 0; step < 2; step++) {
        const gp_Vec to(on, place);
        const double uu = du.Dot(du), vv = dv.Dot(dv), uv = du.Dot(dv), det = uu * vv - uv * uv;
        if (det <= 1e-12 * uu * vv || !(uu * vv > 0)) {
            return away;
        }
        const double u = to.Dot(du), v = to.Dot(dv);
        at.SetCoord(at.X() + (u * vv - v * uv) / det, at.Y() + (v * uu - u * uv) / det);
        surface.D1(at.X(), at.Y(), on, du, dv);
        away = std::min(away, on.Distance(place));
    }
    return away;
}

void refine(const TopoDS_Face& face, double deviation) {
    TopLoc_Location location;
    const Handle(Poly_Triangulation) triangulation = BRep_Tool::Triangulation(face, location);
    const BRepAdaptor_Surface surface(face, false);
    if (triangulation.IsNull() || !triangulation->HasUVNodes() || surface.GetType() == GeomAbs_Plane || triangulation->Deflection() == deviation * looked_at) {
        return;
    }
    std::vector<Corner> corners(triangulation->NbNodes());
    std::vector<Triangle> triangles(triangulation->NbTriangles());
    for (size_t i = 0; i < corners.size(); i++) {
        corners[i] = {triangulation->Node(static_cast<int>(i) + 1).Transformed(location), triangulation->UVNode(static_cast<int>(i) + 1)};
    }
    for (size_t i = 0; i < triangles.size(); i++) {
        int a, b, c;
        triangulation->Triangle(static_cast<int>(i) + 1).Get(a, b, c);
        triangles[i] = {a - 1, b - 1, c - 1};
    }
    const auto before = static_cast<int>(corners.size());
    Refining refining(surface, deviation, std::move(corners), std::move(triangles));
    if (refining.run()) {
        const std::vector<Triangle> now = refining.triangles_now();
        const std::vector<Corner> all = std::move(refining).corners_now();
        // In place, so that the edges keep their corners.
        triangulation->ResizeNodes(static_cast<int>(all.size()), true);
        const gp_Trsf back = location.Inverted();
        for (int i = before; i < static_cast<int>(all.size()); i++) {
            triangulation->SetNode(i + 1, all[i].place.Transformed(back));
            triangulation->SetUVNode(i + 1, all[i].at);
        }
        triangulation->ResizeTriangles(static_cast<int>(now.size()), false);
        for (size_t i = 0; i < now.size(); i++) {
            triangulation->SetTriangle(static_cast<int>(i) + 1, Poly_Triangle(now[i][0] + 1, now[i][1] + 1, now[i][2] + 1));
        }
    }
    triangulation->Deflection(deviation * looked_at);
}
