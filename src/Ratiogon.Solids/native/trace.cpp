#include "trace.h"
#include "faces.h"
#include "sound.h"

#include <TopTools_ListIteratorOfListOfShape.hxx>
#include <TopTools_ListOfShape.hxx>
#include <algorithm>

void Origins::note(const TopTools_ListOfShape& faces, int32_t input, int32_t kind, int32_t index) {
    for (TopTools_ListIteratorOfListOfShape it(faces); it.More(); it.Next()) {
        note(it.Value(), input, kind, index);
    }
}

void Origins::carry(
    BRepBuilderAPI_MakeShape& operation, const rg_shape* from, int32_t input, const std::function<TopoDS_Shape(const TopoDS_Shape&)>& given) {
    this->from.push_back(from);
    for (int i = 1; i <= from->faces.Extent(); i++) {
        const TopoDS_Shape face = given(from->faces(i));
        const TopTools_ListOfShape& modified = operation.Modified(face);
        if (!modified.IsEmpty()) {
            note(modified, input, 0, i - 1);
        } else if (!operation.IsDeleted(face)) {
            note(face, input, 0, i - 1);
        }
    }
}

void Origins::carry_places(const rg_shape* from, int32_t input) {
    const int count = from->faces.Extent();
    if (out->shape->faces.Extent() != count) {
        return;
    }
    std::vector<bool> known(count, false), carried(count, false);
    for (const rg_origin& o : out->origins) {
        known[o.face] = true;
        if (o.input == input && o.kind == 0) {
            carried[o.index] = true;
        }
    }
    for (int i = 0; i < count; i++) {
        if (!known[i] && !carried[i]) {
            out->origins.push_back({i, input, 0, i});
        }
    }
}

void Origins::carry_made(BRepBuilderAPI_MakeShape& operation, const rg_shape* from, int32_t input) {
    for (int i = 1; i <= from->edges.Extent(); i++) {
        note(operation.Generated(from->edges(i)), input, 4, i - 1);
    }
    for (int i = 1; i <= from->vertices.Extent(); i++) {
        note(operation.Generated(from->vertices(i)), input, 5, i - 1);
    }
}

std::vector<TopoDS_Shape> Origins::unknown() const {
    std::vector<bool> known(out->shape->faces.Extent(), false);
    for (const rg_origin& o : out->origins) {
        known[o.face] = true;
    }
    std::vector<TopoDS_Shape> left;
    for (size_t i = 0; i < known.size(); i++) {
        if (!known[i]) {
            left.push_back(out->shape->faces(static_cast<int>(i) + 1));
        }
    }
    return left;
}

void Origins::hand_all_on() const {
    for (const rg_shape* s : from) {
        hand_on(*s, *out->shape);
    }
}

int32_t Origins::release_unchecked(rg_result** result) {
    hand_all_on();
    *result = out.release();
    return 0;
}

int32_t Origins::release(rg_result** result) {
    hand_all_on();
    const Flaw wrong = unsound(*out->shape, [this](const TopoDS_Shape& face) {
        return right.Contains(face) || std::any_of(from.begin(), from.end(), [&face](const rg_shape* s) { return s->faces.Contains(face); });
    });
    return wrong.none() ? release_unchecked(result) : rg_fail(wrong.words, wrong.kind);
}
