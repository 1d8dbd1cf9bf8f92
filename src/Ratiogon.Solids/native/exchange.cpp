// STEP and IGES with names, colours and units, through the library's document of shapes with attributes.
#include "progress.h"
#include "shape.h"
#include "sound.h"

#include <APIHeaderSection_MakeHeader.hxx>
#include <BRep_Builder.hxx>
#include <IFSelect_ReturnStatus.hxx>
#include <IGESCAFControl_Reader.hxx>
#include <IGESCAFControl_Writer.hxx>
#include <IGESControl_Controller.hxx>
#include <IGESData_IGESModel.hxx>
#include <IGESData_IGESWriter.hxx>
#include <IGESData_Protocol.hxx>
#include <IGESSelect_WorkLibrary.hxx>
#include <Interface_InterfaceModel.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Controller.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <STEPConstruct.hxx>
#include <STEPConstruct_Styles.hxx>
#include <STEPControl_Reader.hxx>
#include <ShapeFix_Solid.hxx>
#include <StepBasic_Product.hxx>
#include <StepBasic_ProductDefinition.hxx>
#include <StepBasic_ProductDefinitionFormation.hxx>
#include <StepData_StepModel.hxx>
#include <StepRepr_CharacterizedDefinition.hxx>
#include <StepRepr_PropertyDefinition.hxx>
#include <StepRepr_RepresentationItem.hxx>
#include <StepRepr_RepresentationRelationshipWithTransformation.hxx>
#include <StepRepr_RepresentedDefinition.hxx>
#include <StepShape_ShapeDefinitionRepresentation.hxx>
#include <StepShape_ShapeRepresentation.hxx>
#include <StepShape_SolidModel.hxx>
#include <StepVisual_Colour.hxx>
#include <StepVisual_ColourRgb.hxx>
#include <StepVisual_StyledItem.hxx>
#include <TCollection_ExtendedString.hxx>
#include <TCollection_HAsciiString.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <Transfer_TransientProcess.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XSControl_TransferReader.hxx>
#include <XSControl_WorkSession.hxx>
#include <algorithm>
#include <filesystem>
#include <fstream>
#include <functional>
#include <map>
#include <vector>

namespace {

// Reading the text of a file and writing it out, as shares of the whole; turning entities into shapes is the rest.
constexpr double text_share = 0.3;

// A file that notes how much of it has been read.
class CountedFile : public std::filebuf {
public:
    CountedFile(const char* path, Progress& progress) : progress(progress), size(std::max<double>(1, static_cast<double>(std::filesystem::file_size(path)))) {
        open(path, std::ios::in | std::ios::binary);
    }

protected:
    int_type underflow() override {
        const int_type next = std::filebuf::underflow();
        count(read + static_cast<double>(egptr() - gptr()));
        return next;
    }
    std::streamsize xsgetn(char* to, std::streamsize n) override {
        const double before = read;
        const std::streamsize got = std::filebuf::xsgetn(to, n);
        count(std::max(read, before + static_cast<double>(got)));
        return got;
    }

private:
    void count(double now) {
        read = now;
        progress.note(std::min(1.0, read / size));
    }
    Progress& progress;
    double size, read = 0;
};

constexpr int32_t step_214 = 0, step_242 = 1, iges = 2;

// The library talks to standard output otherwise, which belongs to the program.
void be_quiet() { Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream)); }

// A document that closes itself.
class Document {
public:
    Document() {
        be_quiet();
        XCAFApp_Application::GetApplication()->NewDocument("MDTV-XCAF", document);
    }
    ~Document() { XCAFApp_Application::GetApplication()->Close(document); }
    Handle(TDocStd_Document) document;
    Handle(XCAFDoc_ShapeTool) shapes() const { return XCAFDoc_DocumentTool::ShapeTool(document->Main()); }
    Handle(XCAFDoc_ColorTool) colours() const { return XCAFDoc_DocumentTool::ColorTool(document->Main()); }
};

thread_local std::string read_name;
thread_local double read_colour[4];
// Open shells, curves outside of solids, roots that could not be turned into shapes.
thread_local int32_t read_left[3];
thread_local std::string read_flaw;

// What a file says of one of its bodies.
struct BodyFacts {
    std::string name;
    bool coloured = false;
    double red = 0, green = 0, blue = 0;

    void paint(const Quantity_Color& colour) {
        coloured = true;
        colour.Values(red, green, blue, Quantity_TOC_sRGB);
    }
};

thread_local std::vector<BodyFacts> read_bodies;

std::string utf8(const TCollection_ExtendedString& name) {
    std::vector<char> text(static_cast<size_t>(name.LengthOfCString()) + 1, 0);
    Standard_PCharacter start = text.data();
    name.ToUTF8CString(start);
    std::string plain = text.data();
    std::replace_if(plain.begin(), plain.end(), [](unsigned char c) { return c < 32 || c == 127; }, '_');
    return plain;
}

std::string utf8(const Handle(TCollection_HAsciiString)& name) { return name.IsNull() ? "" : utf8(TCollection_ExtendedString(name->ToCString(), true)); }

void note_name(const TCollection_ExtendedString& name) { read_name = utf8(name); }

// Name and colour of the first label that has them, looked for in the parts that it refers to as well.
void note_label(const Document& from, const TDF_Label& label, int depth) {
    Handle(TDataStd_Name) name;
    if (read_name.empty() && label.FindAttribute(TDataStd_Name::GetID(), name)) {
        note_name(name->Get());
    }
    Quantity_Color colour;
    const TopoDS_Shape shape = XCAFDoc_ShapeTool::GetShape(label);
    for (const XCAFDoc_ColorType type : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen}) {
        if (read_colour[0] == 0 && (from.colours()->GetColor(label, type, colour) || from.colours()->GetColor(shape, type, colour))) {
            read_colour[0] = 1;
            colour.Values(read_colour[1], read_colour[2], read_colour[3], Quantity_TOC_sRGB);
        }
    }
    for (TopExp_Explorer it(shape, TopAbs_SOLID); it.More() && read_colour[0] == 0; it.Next()) {
        if (from.colours()->GetColor(it.Current(), XCAFDoc_ColorSurf, colour) || from.colours()->GetColor(it.Current(), XCAFDoc_ColorGen, colour)) {
            read_colour[0] = 1;
            colour.Values(read_colour[1], read_colour[2], read_colour[3], Quantity_TOC_sRGB);
        }
    }
    TDF_LabelSequence parts;
    if (depth < 4 && XCAFDoc_ShapeTool::GetComponents(label, parts)) {
        for (const TDF_Label& part : parts) {
            TDF_Label referred;
            note_label(from, XCAFDoc_ShapeTool::GetReferredShape(part, referred) ? referred : part, depth + 1);
        }
    }
}

using FactsOf = std::function<BodyFacts(const TopoDS_Shape&)>;

// The solids of a shape, with what is said of each; closed shells count as solids, since IGES often has no more.
int32_t collect(const TopoDS_Shape& from, BRep_Builder& builder, TopoDS_Compound& bodies, const FactsOf& facts_of) {
    int32_t count = 0;
    for (TopExp_Explorer it(from, TopAbs_SOLID); it.More(); it.Next(), count++) {
        builder.Add(bodies, it.Current());
        read_bodies.push_back(facts_of(it.Current()));
    }
    for (TopExp_Explorer it(from, TopAbs_SHELL, TopAbs_SOLID); it.More(); it.Next()) {
        if (it.Current().Closed() || BRep_Tool::IsClosed(it.Current())) {
            ShapeFix_Solid fix;
            const TopoDS_Solid solid = fix.SolidFromShell(TopoDS::Shell(it.Current()));
            if (!solid.IsNull()) {
                builder.Add(bodies, solid);
                read_bodies.push_back(facts_of(it.Current()));
                count++;
                continue;
            }
        }
        read_left[0]++;
    }
    for (TopExp_Explorer it(from, TopAbs_EDGE, TopAbs_FACE); it.More(); it.Next()) {
        read_left[1]++;
    }
    for (TopExp_Explorer it(from, TopAbs_FACE, TopAbs_SHELL); it.More(); it.Next()) {
        read_left[0]++;
    }
    return count;
}

// The solids of an IGES file; -1 where it is broken.
int32_t read_iges(const char* path, BRep_Builder& builder, TopoDS_Compound& bodies) {
    Document document;
    IGESControl_Controller::Init();
    IGESCAFControl_Reader reader;
    reader.SetNameMode(true);
    reader.SetColorMode(true);
    const Handle(Progress) progress = new Progress(text_share, 1);
    if (reader.ReadFile(path) != IFSelect_RetDone || !reader.Transfer(document.document, progress->Start())) {
        return -1;
    }
    TDF_LabelSequence free;
    document.shapes()->GetFreeShapes(free);
    int32_t count = 0;
    for (const TDF_Label& label : free) {
        note_label(document, label, 0);
        const auto facts_of = [&document, &label](const TopoDS_Shape& solid) {
            BodyFacts facts;
            Handle(TDataStd_Name) name;
            if (label.FindAttribute(TDataStd_Name::GetID(), name)) {
                facts.name = utf8(name->Get());
            }
            Quantity_Color colour;
            for (const XCAFDoc_ColorType type : {XCAFDoc_ColorSurf, XCAFDoc_ColorGen}) {
                if (!facts.coloured && (document.colours()->GetColor(solid, type, colour) || document.colours()->GetColor(label, type, colour))) {
                    facts.paint(colour);
                }
            }
            return facts;
        };
        count += collect(XCAFDoc_ShapeTool::GetShape(label), builder, bodies, facts_of);
    }
    return count;
}

// What a STEP file says of its solids: the name of each, or of the product whose shape it is, and the colour of each, or of its
// first face that has one.
class StepFacts {
public:
    explicit StepFacts(STEPControl_Reader& reader) : process(reader.WS()->TransferReader()->TransientProcess()) {
        const Handle(Interface_InterfaceModel) model = reader.Model();
        std::map<const void*, std::string> product_of;
        std::map<const void*, std::vector<const void*>> beside;
        std::vector<std::pair<Handle(StepShape_SolidModel), const void*>> solids;
        for (int i = 1; i <= model->NbEntities(); i++) {
            const Handle(Standard_Transient) entity = model->Value(i);
            if (const auto defined = Handle(StepShape_ShapeDefinitionRepresentation)::DownCast(entity); !defined.IsNull()) {
                product_of[defined->UsedRepresentation().get()] = product_name(defined);
            } else if (const auto related = Handle(StepRepr_RepresentationRelationship)::DownCast(entity);
                       !related.IsNull() && !related->IsKind(STANDARD_TYPE(StepRepr_RepresentationRelationshipWithTransformation))) {
                beside[related->Rep1().get()].push_back(related->Rep2().get());
                beside[related->Rep2().get()].push_back(related->Rep1().get());
            } else if (const auto shape = Handle(StepShape_ShapeRepresentation)::DownCast(entity); !shape.IsNull()) {
                for (int k = 1; k <= shape->NbItems(); k++) {
                    if (const auto solid = Handle(StepShape_SolidModel)::DownCast(shape->ItemsValue(k)); !solid.IsNull()) {
                        solids.emplace_back(solid, shape.get());
                    }
                }
            }
        }
        for (const auto& [solid, representation] : solids) {
            std::string name = utf8(solid->Name());
            if (name.empty() || name == "NONE") {
                name = product_of.count(representation) ? product_of[representation] : "";
                for (const void* other : beside[representation]) {
                    if (name.empty() && product_of.count(other)) {
                        name = product_of[other];
                    }
                }
            }
            if (const void* key = shape_of(solid)) {
                names[key] = name;
            }
        }
        STEPConstruct_Styles styles(reader.WS());
        if (styles.LoadStyles()) {
            for (int i = 1; i <= styles.NbStyles(); i++) {
                note_colour(styles, styles.Style(i));
            }
        }
    }

    BodyFacts of(const TopoDS_Shape& solid) const {
        BodyFacts facts;
        if (const auto name = names.find(solid.TShape().get()); name != names.end()) {
            facts.name = name->second;
        }
        auto colour = colours.find(solid.TShape().get());
        for (TopExp_Explorer it(solid, TopAbs_FACE); it.More() && colour == colours.end(); it.Next()) {
            colour = colours.find(it.Current().TShape().get());
        }
        if (colour != colours.end()) {
            facts.paint(colour->second);
        }
        return facts;
    }

private:
    static std::string product_name(const Handle(StepShape_ShapeDefinitionRepresentation)& defined) {
        const Handle(StepRepr_PropertyDefinition) property = defined->Definition().PropertyDefinition();
        const Handle(StepBasic_ProductDefinition) definition = property.IsNull() ? nullptr : property->Definition().ProductDefinition();
        if (definition.IsNull() || definition->Formation().IsNull() || definition->Formation()->OfProduct().IsNull()) {
            return "";
        }
        return utf8(definition->Formation()->OfProduct()->Name());
    }

    const void* shape_of(const Handle(StepRepr_RepresentationItem)& item) const {
        const TopoDS_Shape shape = STEPConstruct::FindShape(process, item);
        return shape.IsNull() ? nullptr : shape.TShape().get();
    }

    void note_colour(const STEPConstruct_Styles& styles, const Handle(StepVisual_StyledItem)& style) {
        Handle(StepVisual_Colour) surface, bound, curve, drawn;
        double transparency = 0;
        bool component = false;
        Quantity_Color colour;
        if (style.IsNull() || style->Item().IsNull() || !styles.GetColors(style, surface, bound, curve, drawn, transparency, component)) {
            return;
        }
        if (!surface.IsNull() && STEPConstruct_Styles::DecodeColor(surface, colour)) {
            if (const void* key = shape_of(style->Item())) {
                colours[key] = colour;
            }
        }
    }

    Handle(Transfer_TransientProcess) process;
    std::map<const void*, std::string> names;
    std::map<const void*, Quantity_Color> colours;
};

// The solids of a STEP file. Its name and colour are looked up among its entities: the document of shapes with attributes
// takes a tenth longer to fill.
int32_t read_step(const char* path, BRep_Builder& builder, TopoDS_Compound& bodies) {
    STEPControl_Reader reader;
    {
        Progress reading(0, text_share);
        CountedFile file(path, reading);
        std::istream text(&file);
        if (reader.ReadStream(path, text) != IFSelect_RetDone) {
            return -1;
        }
    }
    const Handle(Progress) progress = new Progress(text_share, 1);
    const int roots = reader.NbRootsForTransfer();
    read_left[2] = std::max(0, roots - reader.TransferRoots(progress->Start()));
    const Handle(Interface_InterfaceModel) model = reader.Model();
    for (int i = 1; i <= model->NbEntities() && (read_name.empty() || read_colour[0] == 0); i++) {
        const Handle(StepBasic_Product) product = Handle(StepBasic_Product)::DownCast(model->Value(i));
        if (read_name.empty() && !product.IsNull() && !product->Name().IsNull()) {
            note_name(TCollection_ExtendedString(product->Name()->ToCString(), true));
        }
        const Handle(StepVisual_ColourRgb) colour = Handle(StepVisual_ColourRgb)::DownCast(model->Value(i));
        if (read_colour[0] == 0 && !colour.IsNull()) {
            const double four[4] = {1, colour->Red(), colour->Green(), colour->Blue()};
            std::copy(four, four + 4, read_colour);
        }
    }
    const StepFacts facts(reader);
    return collect(reader.OneShape(), builder, bodies, [&facts](const TopoDS_Shape& solid) { return facts.of(solid); });
}

// The header says what the file is called and which program wrote it, rather than which library.
void sign(const Handle(StepData_StepModel)& model, const char* name) {
    APIHeaderSection_MakeHeader header(model);
    const Handle(TCollection_HAsciiString) ours = new TCollection_HAsciiString("Ratiogon");
    const Handle(TCollection_HAsciiString) none = new TCollection_HAsciiString("");
    header.SetName(new TCollection_HAsciiString(name));
    header.SetAuthorValue(1, none);
    header.SetOrganizationValue(1, none);
    header.SetAuthorisation(none);
    header.SetPreprocessorVersion(ours);
    header.SetOriginatingSystem(ours);
    header.SetDescriptionValue(1, new TCollection_HAsciiString(name));
}

// As the library's own writer does, but with all digits of the numbers: it keeps ten.
bool put_iges(IGESControl_Writer& writer, const char* path) {
    writer.ComputeModel();
    IGESData_IGESWriter file(writer.Model());
    file.FloatWriter().SetFormat("%.16E");
    file.FloatWriter().SetFormatForRange("%.16f", 0.1, 1000);
    file.SendModel(IGESSelect_WorkLibrary::DefineProtocol());
    std::ofstream stream(path, std::ios::binary);
    return writer.Model()->NbEntities() > 0 && file.Print(stream) && stream.flush().good();
}

}  // namespace

RG_API int32_t rg_file_write(int32_t format, int32_t inches, const rg_shape* const* shapes, const char* const* names, const double* colours, int32_t count, const char* path) {
    return rg_guard([&]() -> int32_t {
        Document document;
        for (int32_t i = 0; i < count; i++) {
            const TDF_Label label = document.shapes()->AddShape(shapes[i]->shape, false);
            TDataStd_Name::Set(label, TCollection_ExtendedString(names[i], true));
            document.colours()->SetColor(label, Quantity_Color(colours[3 * i], colours[3 * i + 1], colours[3 * i + 2], Quantity_TOC_sRGB), XCAFDoc_ColorSurf);
        }
        if (format == iges) {
            IGESControl_Controller::Init();
            Interface_Static::SetIVal("write.iges.brep.mode", 1);
            Interface_Static::SetCVal("write.iges.unit", inches != 0 ? "INCH" : "MM");
            Interface_Static::SetCVal("write.iges.header.product", names[0]);
            Interface_Static::SetCVal("write.iges.header.author", "");
            Interface_Static::SetCVal("write.iges.header.company", "");
            IGESCAFControl_Writer writer;
            writer.SetColorMode(true);
            writer.SetNameMode(true);
            const Handle(Progress) progress = new Progress(0, 1 - text_share);
            return writer.Transfer(document.document, progress->Start()) && put_iges(writer, path) ? 0 : rg_fail("the bodies could not be written as IGES");
        }
        STEPCAFControl_Controller::Init();
        Interface_Static::SetCVal("write.step.schema", format == step_242 ? "AP242DIS" : "AP214IS");
        Interface_Static::SetCVal("write.step.unit", inches != 0 ? "INCH" : "MM");
        Interface_Static::SetCVal("write.step.product.name", names[0]);
        STEPCAFControl_Writer writer;
        writer.SetColorMode(true);
        writer.SetNameMode(true);
        const Handle(Progress) progress = new Progress(0, 1 - text_share);
        if (!writer.Transfer(document.document, STEPControl_AsIs, nullptr, progress->Start())) {
            return rg_fail("the bodies could not be written as STEP");
        }
        sign(writer.ChangeWriter().Model(), names[0]);
        return writer.Write(path) == IFSelect_RetDone ? 0 : rg_fail("the bodies could not be written as STEP");
    });
}

RG_API int32_t rg_file_read(int32_t format, const char* path, rg_shape** shape) {
    return rg_guard([&]() -> int32_t {
        be_quiet();
        read_name.clear();
        read_colour[0] = 0;
        std::fill(read_left, read_left + 3, 0);
        read_flaw.clear();
        read_bodies.clear();
        Interface_Static::SetCVal("xstep.cascade.unit", "MM");
        BRep_Builder builder;
        TopoDS_Compound bodies;
        builder.MakeCompound(bodies);
        const int32_t count = format == iges ? read_iges(path, builder, bodies) : read_step(path, builder, bodies);
        if (count < 0) {
            return rg_fail(format == iges ? "it is not a complete IGES file" : "it is not a complete STEP file");
        }
        if (count == 0) {
            return rg_fail("it holds no solid body");
        }
        *shape = new rg_shape(bodies);
        read_flaw = unsound(**shape, [](const TopoDS_Shape&) { return false; }).words;
        return 0;
    });
}

RG_API void rg_file_read_left(int32_t* three) { std::copy(read_left, read_left + 3, three); }

RG_API int32_t rg_file_read_bodies(void) { return static_cast<int32_t>(read_bodies.size()); }

RG_API const char* rg_file_read_body(int32_t number, double* four) {
    const BodyFacts& body = read_bodies[number];
    const double facts[4] = {body.coloured ? 1.0 : 0.0, body.red, body.green, body.blue};
    std::copy(facts, facts + 4, four);
    return body.name.c_str();
}

RG_API const char* rg_file_read_flaw(void) { return read_flaw.c_str(); }

RG_API const char* rg_file_read_name(void) { return read_name.c_str(); }

RG_API void rg_file_read_colour(double* four) { std::copy(read_colour, read_colour + 4, four); }
