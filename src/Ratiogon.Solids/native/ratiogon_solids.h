// The C ABI over the B-rep geometry library. Shapes and results are opaque handles that the caller frees.
// Every function that can fail returns 0 for success and 1 otherwise; rg_error() then says why and rg_error_kind() of which kind that is
// (per thread).
// Lengths are millimetres, angles radians. Sub-shapes are numbered from 0 in the library's own map order,
// which is stable for one shape.
#ifndef RATIOGON_SOLIDS_H
#define RATIOGON_SOLIDS_H

#include <stdint.h>

#define RG_API extern "C" __attribute__((visibility("default")))

typedef struct rg_shape rg_shape;
typedef struct rg_result rg_result;
typedef struct rg_mesh rg_mesh;
typedef struct rg_profile rg_profile;

// Why something failed: in general; since what came out would be no sound body; since nothing would be left of the body.
enum rg_failure { rg_failure_other = 0, rg_failure_unsound = 1, rg_failure_nothing_left = 2 };

RG_API const char* rg_error(void);
RG_API int32_t rg_error_kind(void);
RG_API const char* rg_version(void);

RG_API void rg_shape_free(rg_shape* shape);
RG_API void rg_result_free(rg_result* result);
RG_API void rg_mesh_free(rg_mesh* mesh);

// A result: its shape (to be freed by the caller) and, for faces of it, where they come from, four numbers for each
// origin: face of the result, input, kind (0 face, 1 swept from a profile edge, 2 first cap, 3 last cap, 4 made of an edge,
// 5 made of a vertex, 6 cut by a limit, 7 inner side of a face), number there.
RG_API rg_shape* rg_result_take_shape(rg_result* result);
RG_API int32_t rg_result_origin_count(const rg_result* result);
RG_API void rg_result_origins(const rg_result* result, int32_t* four_each);

// A planar profile. plane: origin, x, y (9 numbers). edges: nine numbers each: kind (0 line, 1 arc, 2 full circle, 3 spline,
// 4 ellipse or a piece of one), x1, y1, x2, y2, cx, cy, radius, counterclockwise (1 or 0). A spline gives the number of its
// poles instead of cx; they stand in extra, two numbers each; of an ellipse extra holds its two semi-axes as vectors.
// loop_edges: edges of each loop; region_loops: loops of each region, the outer one first. The plane is shifted by offset
// along its normal.
RG_API int32_t rg_profile_make(const double* plane, const double* edges, const double* extra, const int32_t* loop_edges,
                               const int32_t* region_loops, int32_t region_count, double offset, rg_profile** profile);
RG_API void rg_profile_free(rg_profile* profile);

// A profile pushed along a vector; turned about an axis (point, direction) by an angle, 2 pi for all round.
RG_API int32_t rg_prism(const rg_profile* profile, const double* vector, rg_result** result);
RG_API int32_t rg_revolve(const rg_profile* profile, const double* axis, double angle, rg_result** result);

// A profile along a path, kept square to it. A path is given by the kinds of its curves and their numbers one after the
// other: 0 line (two ends), 1 circle or ellipse (centre, two semi-axes, two parameters), 2 spline (degree, pole count, 1 if
// rational, knots with repetitions, poles, weights).
RG_API int32_t rg_pipe(const rg_profile* profile, const int32_t* kinds, const double* numbers, int32_t count, rg_result** result);
// One loop along a path, kept parallel to itself, or turned to face a guide.
RG_API int32_t rg_sweep(const rg_profile* profile, int32_t region, int32_t loop, const int32_t* kinds, const double* numbers, int32_t count,
                        const int32_t* guide_kinds, const double* guide_numbers, int32_t guide_count, rg_result** result);

// The outlines of the profiles' first regions, from an apex and to one where they are given (three numbers or null).
RG_API int32_t rg_loft(const rg_profile* const* profiles, int32_t count, const double* apex_first, const double* apex_last, int32_t ruled,
                       rg_result** result);

// The outlines of two or more profiles; the sides leave the first plane squarely, the last one, or both.
RG_API int32_t rg_loft_square(const rg_profile* const* profiles, int32_t count, int32_t square_first, int32_t square_last, rg_result** result);

// Turned tools put into a body of one shell. Four numbers each: the body's face that it goes in by and the one that it
// leaves by (or -1), its own cap on either (or -1). Refused where one comes near an edge, another tool or another face.
RG_API int32_t rg_drill(const rg_shape* body, const rg_shape* const* tools, const int32_t* four_each, int32_t count, rg_result** result);

// A groove wound about an axis (point, direction): section is radius and width of its mouth, radius and width of its root;
// start is the angle where it begins. Its sides are numbered first flank, root, second flank, mouth.
RG_API int32_t rg_groove(const double* axis, const double* section, double pitch, double turns, double start, rg_result** result);

// Shapes side by side as they are: no body, but the picture of their union from outside.
RG_API int32_t rg_beside(const rg_shape* const* shapes, int32_t count, rg_result** result);

// operation: 0 union, 1 the first without the others, 2 what it has in common with them, 3 as 1 without putting together
// faces of one surface (which takes for ever on wound ones).
RG_API int32_t rg_boolean(int32_t operation, const rg_shape* a, const rg_shape* const* tools, int32_t count, rg_result** result);
// One of the solids, by its number in order; those that have one of these faces.
RG_API int32_t rg_solid_at(const rg_shape* shape, int32_t number, rg_result** result);
RG_API int32_t rg_solids_with(const rg_shape* shape, const int32_t* faces, int32_t count, rg_result** result);

// Rounded edges; bevelled edges (how: 0 one size, 1 two sizes, 2 size and angle from the face); a hollow body with a wall
// (negative: inwards) and open faces; faces tilted about where they meet a plane.
RG_API int32_t rg_fillet(const rg_shape* shape, const int32_t* edges, const double* radii, int32_t count, rg_result** result);
RG_API int32_t rg_chamfer(const rg_shape* shape, const int32_t* edges, const int32_t* faces, const double* sizes, int32_t how, int32_t count, rg_result** result);
RG_API int32_t rg_shell(const rg_shape* shape, const int32_t* open, int32_t count, double thickness, rg_result** result);
// A wall inwards of a thickness, made face by face: faces of the inside may vanish, the space inside fall into pieces.
RG_API int32_t rg_wall(const rg_shape* shape, const int32_t* open, int32_t count, double thickness, rg_result** result);
// The body without these faces, those beside them brought together: without its roundings.
RG_API int32_t rg_without_faces(const rg_shape* shape, const int32_t* faces, int32_t count, rg_result** result);
RG_API int32_t rg_draft(const rg_shape* shape, const int32_t* faces, int32_t count, const double* plane, double angle, rg_result** result);

// Connected faces closed to a solid by the surfaces that they end on. adds: 1 when they are those of a boss, 0 of a pocket.
RG_API int32_t rg_plug(const rg_shape* shape, const int32_t* faces, int32_t count, int32_t* adds, rg_result** result);

// Moved by three rows of four numbers; the part below a plane; divided by the whole surface of another body's face.
RG_API int32_t rg_transform(const rg_shape* shape, const double* rows, rg_result** result);
RG_API int32_t rg_half(const rg_shape* shape, const double* plane, rg_result** result);
RG_API int32_t rg_split_by_face(const rg_shape* tool, const rg_shape* body, int32_t face, double reach, rg_result** result);

// The stretches of material along a line (point, direction): finds them, to be read next on the same thread, ten numbers
// each: where it begins, face, normal out of the material; where it ends, face, normal.
RG_API int32_t rg_probe(const rg_shape* shape, const double* line, int32_t* count);
RG_API void rg_probe_read(double* ten_each);

// Counts: faces, edges, vertices, solids.
RG_API void rg_counts(const rg_shape* shape, int32_t* four);
// Faces: one int each (0 plane, 1 cylinder, 2 cone, 3 sphere, 4 torus, 5 other) and 13 numbers (plane origin, x, outward
// normal, area, centre of area). Edges: six ints (0 line, 1 circle, 2 ellipse, 3 other; two faces or -1; two vertices;
// 1 for a seam) and 8 numbers (length, middle, radius, centre). Vertices: three numbers.
RG_API int32_t rg_describe(const rg_shape* shape, int32_t* face_ints, double* face_numbers, int32_t* edge_ints, double* edge_numbers, double* vertex_numbers);

// What a face (kind 1) or an edge (kind 2) lies on: finds it and counts its numbers, to be read next on the same thread.
// Face: a point on it, the normal out of the material there, then: cylinder origin, axis, radius; cone apex, direction into
// the nappe, half angle; sphere centre, radius; torus centre, axis, two radii; other: degrees, pole counts, 1 if rational,
// knots along u and v with repetitions, poles, weights. Edge: line two ends; circle and ellipse centre, two semi-axes, two
// parameters; other: degree, pole count, 1 if rational, knots with repetitions, poles, weights; nothing for a degenerate one.
RG_API int32_t rg_geometry_find(const rg_shape* shape, int32_t kind, int32_t index, int32_t* count);
RG_API void rg_geometry_read(double* numbers);

// Edges where the faces of a shape meet a plane (origin, x, y); an origin of the result is edge, 0, 0, face.
RG_API int32_t rg_section(const rg_shape* shape, const double* plane, rg_result** result);

// volume, area, centre of mass.
RG_API int32_t rg_mass(const rg_shape* shape, double* five);
// Moments of inertia about the centre of mass, of density 1: xx, yy, zz, xy, xz, yz.
RG_API int32_t rg_inertia(const rg_shape* shape, double* six);
RG_API int32_t rg_bounds(const rg_shape* shape, double* low_high);
// Triangles by nine numbers each, as flat faces beside each other; those without area as the line that they are.
RG_API int32_t rg_facets(const double* numbers, int32_t count, rg_shape** shape);
// A point, a path and a flat square to measure from.
RG_API int32_t rg_dot(const double* at, rg_shape** shape);
RG_API int32_t rg_wire(const int32_t* kinds, const double* numbers, int32_t count, rg_shape** shape);
RG_API int32_t rg_sheet(const double* plane, double reach, rg_shape** shape);
// kinds: 0 whole, 1 face, 2 edge, 3 vertex. seven: distance, point on a, point on b.
RG_API int32_t rg_distance(const rg_shape* a, int32_t kind_a, int32_t index_a, const rg_shape* b, int32_t kind_b, int32_t index_b, double* seven);

RG_API int32_t rg_mesh_make(const rg_shape* shape, double deviation, int32_t coarse, rg_mesh** mesh);
// corners, triangles, edge points.
RG_API void rg_mesh_counts(const rg_mesh* mesh, int32_t* three);
RG_API void rg_mesh_read(const rg_mesh* mesh, float* positions, float* normals, uint32_t* triangles, int32_t* face_triangles, float* edge_points, int32_t* edge_counts);

// format: 0 STEP AP214, 1 STEP AP242, 2 IGES; in millimetres, or in inches. names: one for each shape; colours: three for each, sRGB.
RG_API int32_t rg_file_write(int32_t format, int32_t inches, const rg_shape* const* shapes, const char* const* names, const double* colours, int32_t count, const char* path);
// The solids of a file, in millimetres whatever its unit; then, on the same thread, the first name and colour in it (1 and
// three, or 0).
RG_API int32_t rg_file_read(int32_t format, const char* path, rg_shape** shape);
// Of the file that was read last: open shells and faces, curves outside of bodies, and roots that could not be read.
RG_API void rg_file_read_left(int32_t* three);
// What is wrong with its bodies, or empty.
RG_API const char* rg_file_read_flaw(void);
RG_API const char* rg_file_read_name(void);
// Of its bodies, in order: how many, and of each the name (or empty) and the colour (1 and three, or 0).
RG_API int32_t rg_file_read_bodies(void);
RG_API const char* rg_file_read_body(int32_t number, double* four);
RG_API void rg_file_read_colour(double* four);

// The smallest radius by which a face bends anywhere within its outline, and where: radius (0 for what is flat), x, y, z.
RG_API int32_t rg_bend(const rg_shape* shape, int32_t face, double* four);

// How far a long read or write of a file, or a mesh, has come: 0 to 1, or less than 0 where none is under way. May be asked
// for from another thread.
RG_API double rg_progress(void);

// The largest distance between a face and the triangles that it was drawn with last, looked for at the middles of triangles
// and of their sides.
RG_API int32_t rg_mesh_deviation(const rg_shape* shape, double* deviation);

#endif
