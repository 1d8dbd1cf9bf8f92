// The motor plate of the demo coded straight against the geometry library: the same prisms, the same booleans, the same
// triangles. Prints milliseconds for one build, the median of several. With a STEP file: milliseconds to read it. With 'mass'
// and a STEP file: milliseconds for the volume and the area of what it holds, to 1e-8, and the volume.
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepGProp.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <GC_MakeArcOfCircle.hxx>
#include <GProp_GProps.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPControl_Reader.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shape.hxx>
#include <gp_Ax2.hxx>
#include <gp_Circ.hxx>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstring>
#include <vector>

namespace {

TopoDS_Wire circle(double x, double y, double z, double r) {
    return BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(gp_Circ(gp_Ax2(gp_Pnt(x, y, z), gp_Dir(0, 0, 1)), r)).Edge());
}

TopoDS_Wire rectangle(double w, double h) {
    const gp_Pnt p[4] = {{-w / 2, -h / 2, 0}, {w / 2, -h / 2, 0}, {w / 2, h / 2, 0}, {-w / 2, h / 2, 0}};
    BRepBuilderAPI_MakeWire wire;
    for (int i = 0; i < 4; i++) {
        wire.Add(BRepBuilderAPI_MakeEdge(p[i], p[(i + 1) % 4]));
    }
    return wire;
}

TopoDS_Face slot(double y, double z) {
    const double c = 6, r = 2.75;
    const gp_Pnt tl(-c, y + r, z), bl(-c, y - r, z), br(c, y - r, z), tr(c, y + r, z);
    BRepBuilderAPI_MakeWire wire;
    wire.Add(BRepBuilderAPI_MakeEdge(bl, br));
    wire.Add(BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(br, gp_Pnt(c + r, y, z), tr).Value()));
    wire.Add(BRepBuilderAPI_MakeEdge(tr, tl));
    wire.Add(BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(tl, gp_Pnt(-c - r, y, z), bl).Value()));
    return BRepBuilderAPI_MakeFace(wire.Wire());
}

TopoDS_Shape boolean(BRepAlgoAPI_BooleanOperation& operation, const TopoDS_Shape& a, const std::vector<TopoDS_Shape>& b) {
    TopTools_ListOfShape arguments, tools;
    arguments.Append(a);
    for (const TopoDS_Shape& s : b) {
        tools.Append(s);
    }
    operation.SetArguments(arguments);
    operation.SetTools(tools);
    operation.Build();
    operation.SimplifyResult(true, true);
    return operation.Shape();
}

void build(double w, double inset) {
    const double h = 64, t = 6;
    BRepBuilderAPI_MakeFace outline(rectangle(w, h));
    outline.Add(TopoDS::Wire(circle(0, 0, 0, 11).Reversed()));
    const TopoDS_Shape plate = BRepPrimAPI_MakePrism(outline.Face(), gp_Vec(0, 0, t));
    BRepBuilderAPI_MakeFace ring(circle(0, 0, t, 16));
    ring.Add(TopoDS::Wire(circle(0, 0, t, 11).Reversed()));
    BRepAlgoAPI_Fuse fuse;
    const TopoDS_Shape collared = boolean(fuse, plate, {BRepPrimAPI_MakePrism(ring.Face(), gp_Vec(0, 0, 4)).Shape()});
    BRepAlgoAPI_Cut slots;
    const TopoDS_Shape slotted = boolean(slots, collared, {BRepPrimAPI_MakePrism(slot(23, -100), gp_Vec(0, 0, 200)).Shape(), BRepPrimAPI_MakePrism(slot(-23, -100), gp_Vec(0, 0, 200)).Shape()});
    std::vector<TopoDS_Shape> holes;
    for (int i = 0; i < 4; i++) {
        const gp_Pnt at((i % 2 ? 1 : -1) * (w / 2 - inset), (i / 2 ? 1 : -1) * (h / 2 - inset), -1);
        holes.push_back(BRepPrimAPI_MakeCylinder(gp_Ax2(at, gp_Dir(0, 0, 1)), 2.1, t + 2).Shape());
    }
    BRepAlgoAPI_Cut drill;
    BRepMesh_IncrementalMesh mesh(boolean(drill, slotted, holes), 0.05);
}

TopoDS_Shape shape_of(const char* path) {
    Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
    STEPControl_Reader reader;
    if (reader.ReadFile(path) != IFSelect_RetDone) {
        return {};
    }
    reader.TransferRoots();
    return reader.OneShape();
}

double since(std::chrono::steady_clock::time_point began) { return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - began).count(); }

// Milliseconds to read a STEP file to shapes, what the reader needed meanwhile freed again.
int read(const char* path) {
    const auto began = std::chrono::steady_clock::now();
    const TopoDS_Shape shape = shape_of(path);
    std::printf("%.3f\n", since(began));
    return shape.IsNull() ? 1 : 0;
}

int mass(const char* path) {
    const TopoDS_Shape shape = shape_of(path);
    const auto began = std::chrono::steady_clock::now();
    GProp_GProps volume, area;
    BRepGProp::VolumeProperties(shape, volume, 1e-8);
    BRepGProp::SurfaceProperties(shape, area, 1e-8);
    std::printf("%.3f %.9f\n", since(began), volume.Mass());
    return shape.IsNull() ? 1 : 0;
}

}  // namespace

int main(int count, char** arguments) {
    if (count > 2 && std::strcmp(arguments[1], "mass") == 0) {
        return mass(arguments[2]);
    }
    if (count > 1) {
        return read(arguments[1]);
    }
    std::vector<double> times;
    for (int i = 0; i < 31; i++) {
        const auto began = std::chrono::steady_clock::now();
        build(90 + i * 0.1, 7);
        times.push_back(std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - began).count());
    }
    std::sort(times.begin(), times.end());
    std::printf("%.3f\n", times[times.size() / 2]);
}
