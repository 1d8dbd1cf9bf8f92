#include "shape.h"

#include <BRep_Builder.hxx>
#include <IFSelect_ReturnStatus.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPControl_Reader.hxx>
#include <STEPControl_Writer.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS_Compound.hxx>

namespace {

// The library talks to standard output otherwise, which belongs to the program.
void be_quiet() { Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream)); }

}  // namespace

RG_API int32_t rg_step_write(const rg_shape* const* shapes, int32_t count, const char* name, const char* path) {
    return rg_guard([&]() -> int32_t {
        be_quiet();
        STEPControl_Writer writer;
        Interface_Static::SetCVal("write.step.schema", "AP214IS");
        Interface_Static::SetCVal("write.step.unit", "MM");
        Interface_Static::SetCVal("write.step.product.name", name);
        for (int32_t i = 0; i < count; i++) {
            if (writer.Transfer(shapes[i]->shape, STEPControl_AsIs) != IFSelect_RetDone) {
                return rg_fail("a body could not be translated to STEP");
            }
        }
        return writer.Write(path) == IFSelect_RetDone ? 0 : rg_fail("the file could not be written");
    });
}

RG_API int32_t rg_step_read(const char* path, rg_shape** shape) {
    return rg_guard([&]() -> int32_t {
        be_quiet();
        STEPControl_Reader reader;
        if (reader.ReadFile(path) != IFSelect_RetDone) {
            return rg_fail("it is not a complete STEP file");
        }
        reader.TransferRoots();
        BRep_Builder builder;
        TopoDS_Compound bodies;
        builder.MakeCompound(bodies);
        int32_t count = 0;
        for (TopExp_Explorer it(reader.OneShape(), TopAbs_SOLID); it.More(); it.Next(), count++) {
            builder.Add(bodies, it.Current());
        }
        if (count == 0) {
            return rg_fail("it holds no solid body");
        }
        *shape = new rg_shape(bodies);
        return 0;
    });
}
