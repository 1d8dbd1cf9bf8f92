// Areas and volumes of single faces: along the outline of a flat one, by Gauss points in every smooth piece of a curved one.
#ifndef RATIOGON_FACES_H
#define RATIOGON_FACES_H

#include "shape.h"

#include <TopoDS_Face.hxx>
#include <gp_Pnt.hxx>
#include <mutex>
#include <optional>
#include <vector>

// Area and its centre; false where the face must be asked of the library.
bool quick_area(const TopoDS_Face& face, double& area, gp_Pnt& centre);

// Of one face: volume and moment of the cone from the origin to it, positive where the face looks away; its area.
struct FaceIntegrals {
    double volume = 0, area = 0;
    gp_XYZ moment{0, 0, 0};
    // Of the area; only while integrating.
    gp_XYZ first{0, 0, 0};

    void add(const FaceIntegrals& part, double times) {
        volume += part.volume * times;
        area += part.area * times;
        moment += part.moment * times;
        first += part.first * times;
    }
};

// Relative, where the library is asked to integrate.
constexpr double integration_tolerance = 1e-8;

FaceIntegrals integrals_of(const TopoDS_Face& face);

// What was found out about the faces of a body, by their numbers from 0. A face that one body hands on to the next takes it
// along. Bodies are looked at from several threads.
struct face_facts {
    struct Area {
        double area;
        gp_Pnt centre;
    };

    std::mutex gate;
    std::vector<std::optional<FaceIntegrals>> integrals;
    std::vector<std::optional<Area>> areas;
};

// Of a face of a body by its number from 0, as the body has it.
FaceIntegrals integrals_of(const rg_shape& body, int number);
face_facts::Area area_of(const rg_shape& body, int number);

// The volume within all faces.
double volume_of(const rg_shape& body);

// Of one of its solids.
double volume_of(const rg_shape& body, const TopoDS_Shape& part_of_it);

// What is known of faces that two bodies share.
void hand_on(const rg_shape& from, const rg_shape& to);

// A face with more outlines: what they run round, seen from outside the material, is no part of it.
TopoDS_Face with_outlines(const TopoDS_Face& face, const std::vector<TopoDS_Shape>& wires);

#endif
