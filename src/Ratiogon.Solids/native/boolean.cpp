#include "shape.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListIteratorOfListOfShape.hxx>
#include <TopTools_ListOfShape.hxx>
#include <memory>
#include <sstream>

namespace {

void carry(BRepAlgoAPI_BooleanOperation& operation, const rg_shape* input, int32_t number, rg_result& out) {
    for (int i = 1; i <= input->faces.Extent(); i++) {
        const TopoDS_Shape& face = input->faces(i);
        const TopTools_ListOfShape& modified = operation.Modified(face);
        if (modified.IsEmpty() && !operation.IsDeleted(face)) {
            const int32_t kept = out.shape->faces.FindIndex(face) - 1;
            if (kept >= 0) {
                out.origins.push_back({kept, number, 0, i - 1});
            }
        }
        for (TopTools_ListIteratorOfListOfShape it(modified); it.More(); it.Next()) {
            const int32_t became = out.shape->faces.FindIndex(it.Value()) - 1;
            if (became >= 0) {
                out.origins.push_back({became, number, 0, i - 1});
            }
        }
    }
}

}  // namespace

RG_API int32_t rg_boolean(int32_t kind, const rg_shape* a, const rg_shape* b, rg_result** result) {
    return rg_guard([&]() -> int32_t {
        BRepAlgoAPI_Fuse fuse;
        BRepAlgoAPI_Cut cut;
        BRepAlgoAPI_BooleanOperation& operation = kind == 0 ? static_cast<BRepAlgoAPI_BooleanOperation&>(fuse) : cut;
        TopTools_ListOfShape arguments, tools;
        arguments.Append(a->shape);
        tools.Append(b->shape);
        operation.SetArguments(arguments);
        operation.SetTools(tools);
        operation.Build();
        if (operation.HasErrors()) {
            std::ostringstream why;
            operation.DumpErrors(why);
            return rg_fail("the bodies could not be combined: " + why.str());
        }
        operation.SimplifyResult(true, true);
        TopExp_Explorer solid(operation.Shape(), TopAbs_SOLID);
        if (!solid.More()) {
            return rg_fail("nothing is left of the body");
        }
        auto out = std::make_unique<rg_result>();
        out->shape = new rg_shape(operation.Shape());
        carry(operation, a, 0, *out);
        carry(operation, b, 1, *out);
        *result = out.release();
        return 0;
    });
}
