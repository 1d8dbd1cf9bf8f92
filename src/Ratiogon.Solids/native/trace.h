// What becomes of shapes through the library's operations.
#ifndef RATIOGON_TRACE_H
#define RATIOGON_TRACE_H

#include "shape.h"

#include <BRepBuilderAPI_MakeShape.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopTools_MapOfShape.hxx>
#include <TopoDS_Face.hxx>
#include <functional>
#include <memory>

// Runs an operation between a body and others that leaves all of them as they are.
template <typename Operation>
void build_between(Operation& operation, const TopoDS_Shape& body, const TopTools_ListOfShape& others) {
    TopTools_ListOfShape arguments;
    arguments.Append(body);
    operation.SetArguments(arguments);
    operation.SetTools(others);
    // The bodies are kept for other rebuilds: the library must not widen their tolerances.
    operation.SetNonDestructive(true);
    operation.Build();
}

// Where the faces of a result come from, written down while it is made.
class Origins {
public:
    explicit Origins(const TopoDS_Shape& result) : out(std::make_unique<rg_result>()) { out->shape = new rg_shape(result); }

    // A face of the result (others are passed over) comes from a thing of an input.
    void note(const TopoDS_Shape& face, int32_t input, int32_t kind, int32_t index) {
        const int32_t found = out->shape->faces.FindIndex(face) - 1;
        if (found >= 0) {
            out->origins.push_back({found, input, kind, index});
        }
    }

    // Every face of a list.
    void note(const TopTools_ListOfShape& faces, int32_t input, int32_t kind, int32_t index);

    // The faces that an operation kept or changed.
    void carry(BRepBuilderAPI_MakeShape& operation, const rg_shape* from, int32_t input) {
        carry(operation, from, input, [](const TopoDS_Shape& face) { return face; });
    }

    // The same where the operation was given something else for each face.
    void carry(BRepBuilderAPI_MakeShape& operation, const rg_shape* from, int32_t input, const std::function<TopoDS_Shape(const TopoDS_Shape&)>& given);

    // Faces of an input that are in the result as they were need no second look.
    void know(const rg_shape* input) { from.push_back(input); }

    // Nor does a flat face whose new outlines were seen to lie on it, apart from each other and from all its edges: the library
    // looks at every pair of outlines.
    void know(const TopoDS_Face& made) { right.Add(made); }

    // For an operation that keeps the number and the order of the faces: those that its history lost, by their places.
    void carry_places(const rg_shape* from, int32_t input);

    // The faces that it made of edges and vertices, kinds 4 and 5.
    void carry_made(BRepBuilderAPI_MakeShape& operation, const rg_shape* from, int32_t input);

    // The faces of the result that nothing was noted for.
    std::vector<TopoDS_Shape> unknown() const;

    // The result, when it is sound; else why not.
    int32_t release(rg_result** result);

    // The result of an operation that can spoil nothing.
    int32_t release_unchecked(rg_result** result);

private:
    // What is known of faces goes along with them.
    void hand_all_on() const;

    std::unique_ptr<rg_result> out;
    std::vector<const rg_shape*> from;
    TopTools_MapOfShape right;
};

#endif
