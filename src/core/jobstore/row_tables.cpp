#include "core/jobstore/row_tables.h"

#include "core/base/said.h"
#include "core/formats/brief_reading.h"
#include "core/formats/documents.h"
#include "core/formats/probe_document.h"

namespace wavechroma::sql {

namespace {

Result<Done> onlyIf(bool isSound, const char *fault)
{
    return isSound ? Result<Done>(Done{}) : unusable(fault);
}

/// A member that has to be one of a range.
template <class Row, class Value>
Column<Row> within(const char *name, Value Row::*member, Value least, Value most)
{
    auto out = column<Row>(name, member);
    out.read = [read = out.read, member, least, most](const Statement &from, int at, Row &row) {
        static_cast<void>(read(from, at, row));
        return onlyIf(row.*member >= least && row.*member <= most, "is not valid");
    };
    return out;
}

Result<Done> readHash(const std::string &text, JobFrame &row)
{
    row.sha256 = text;
    return onlyIf(text.empty() ||
                      (text.size() == 64 && text.find_first_not_of("0123456789abcdef") == std::string::npos),
                  "is not a hash");
}

Result<Done> readPath(const std::string &text, JobFrame &row)
{
    row.path = text;
    return onlyIf(!text.empty(), "names no file");
}

Result<Done> readPart(const std::string &text, JobFrame &row)
{
    const auto part = partFrom(text);
    row.part = part.value_or(FramePart::Product);
    return onlyIf(part.has_value(), words::said("is not a kind of frame"));
}

Result<Done> readAutoBalance(const std::string &text, JobFrame &row)
{
    if (!text.empty())
        row.camera.balancesItself = text == "yes";
    return onlyIf(text.empty() || text == "yes" || text == "no", words::said("is neither yes nor no"));
}

Result<Done> readBalance(const std::string &text, JobFrame &row)
{
    if (text.empty())
        return Done{};
    auto balance = balanceFrom(text, "its balance");
    if (!balance)
        return balance.error();
    row.balance = std::move(*balance);
    return Done{};
}

Result<Done> readCrop(const std::string &text, JobFrame &row)
{
    row.crop = cropFrom(text);
    return onlyIf(text.empty() || row.crop.has_value(), words::said("is not a crop"));
}

Result<Done> readLampKind(const std::string &text, JobSetup &row)
{
    const auto kind = lampKindFrom(text);
    row.lampKind = kind.value_or(LampKind::Unknown);
    return onlyIf(kind.has_value(), words::said("is not a kind of lamp"));
}

Result<Done> readBrief(const std::string &text, JobReading &row)
{
    auto brief = briefReadingFrom(text, "it");
    if (!brief)
        return brief.error();
    row.brief = std::move(*brief);
    return Done{};
}

Result<Done> readChart(const std::string &text, JobChart &row)
{
    auto chart = chartFrom(text, "it");
    if (!chart)
        return chart.error();
    row.definition = std::move(*chart);
    return Done{};
}

} // namespace

template <> const Table<JobTitle> &tableOf<JobTitle>()
{
    using Row = JobTitle;
    static const Table<Row> table{
        "title",
        {column<Row>("id", &Row::id), column<Row>("text", &Row::text),
         column<Row>("colour", &Row::parts, &Parts::colour), column<Row>("tone", &Row::parts, &Parts::tone),
         column<Row>("tolerance", &Row::tolerance), column<Row>("intended_ppi", &Row::intendedPpi)}};
    return table;
}

template <> const Table<JobSetup> &tableOf<JobSetup>()
{
    using Row = JobSetup;
    static const Table<Row> table{
        "setup",
        {column<Row>("id", &Row::id), column<Row>("title", &Row::title), column<Row>("notes", &Row::notes),
         column<Row>("lamps", &Row::lamps), column<Row>("modifiers", &Row::modifiers),
         column<Row>("power", &Row::power), column<Row>("backdrop", &Row::backdrop),
         column<Row>("picture", &Row::picture),
         textColumn<Row>(
             "lamp_kind", [](const Row &row) { return std::string(nameOf(row.lampKind)); }, readLampKind)}};
    return table;
}

template <> const Table<JobFrame> &tableOf<JobFrame>()
{
    using Row = JobFrame;
    using Facts = CameraFacts;
    const auto fact = [](const char *name, auto member) { return column<Row>(name, &Row::camera, member); };
    static const Table<Row> table{
        "frame",
        {column<Row>("id", &Row::id),
         column<Row>("setup", &Row::setup),
         textColumn<Row>(
             "path", [](const Row &row) { return row.path; }, readPath),
         textColumn<Row>(
             "sha256", [](const Row &row) { return row.sha256; }, readHash),
         textColumn<Row>(
             "part", [](const Row &row) { return std::string(nameOf(row.part)); }, readPart),
         fact("make", &Facts::make),
         fact("model", &Facts::model),
         fact("unique_model", &Facts::uniqueModel),
         fact("serial", &Facts::serial),
         fact("lens", &Facts::lens),
         fact("iso", &Facts::iso),
         fact("exposure_s", &Facts::exposureSeconds),
         fact("f_number", &Facts::fNumber),
         fact("focal_mm", &Facts::focalMm),
         textColumn<Row>(
             "auto_balance",
             [](const Row &row) {
                 const auto &balance = row.camera.balancesItself;
                 return std::string(!balance ? "" : *balance ? "yes" : "no");
             },
             readAutoBalance),
         fact("rendered", &Facts::isRendered),
         fact("captured_at", &Facts::capturedAt),
         within("width", &Row::width, 0, 1 << 30),
         within("height", &Row::height, 0, 1 << 30),
         within("orientation", &Row::orientation, 1, 8),
         column<Row>("set_aside", &Row::setAside),
         textColumn<Row>(
             "balance", [](const Row &row) { return row.balance ? documentOf(*row.balance) : std::string(); },
             readBalance),
         within("level_thirds", &Row::levelThirds, -60, 60),
         column<Row>("served_by", &Row::servedBy),
         column<Row>("calibration", &Row::calibration),
         column<Row>("picture", &Row::picture),
         column<Row>("look", &Row::look),
         textColumn<Row>(
             "crop", [](const Row &row) { return row.crop ? cropText(*row.crop) : std::string(); }, readCrop),
         column<Row>("ruler_px_mm", &Row::rulerPixelsPerMm)}};
    return table;
}

template <> const Table<JobReading> &tableOf<JobReading>()
{
    using Row = JobReading;
    static const Table<Row> table{
        "reading",
        {column<Row>("id", &Row::id), column<Row>("frame", &Row::frame),
         textColumn<Row>(
             "brief", [](const Row &row) { return briefOf(row.brief); }, readBrief),
         laterColumn<Row>("document", [](const Row &row) { return documentOf(*row.reading); })}};
    return table;
}

template <> const Table<JobCalibration> &tableOf<JobCalibration>()
{
    using Row = JobCalibration;
    using Brief = CalibrationBrief;
    const auto brief = [](const char *name, auto... members) {
        return column<Row>(name, &Row::brief, members...);
    };
    static const Table<Row> table{
        "calibration",
        {column<Row>("id", &Row::id),
         column<Row>("frame", &Row::frame),
         brief("colour", &Brief::parts, &Parts::colour),
         brief("tone", &Brief::parts, &Parts::tone),
         brief("recommended", &Brief::recommended),
         brief("sound", &Brief::isSound),
         brief("unseen", &Brief::unseen),
         brief("mean", &Brief::mean),
         brief("worst", &Brief::worst),
         brief("worst_patch", &Brief::worstPatch),
         brief("light", &Brief::light),
         brief("cct_k", &Brief::cctKelvin),
         brief("duv", &Brief::duv),
         brief("name", &Brief::name),
         brief("matched_to", &Brief::matchedTo),
         brief("lights", &Brief::lights),
         brief("shot_at", &Brief::shotAt),
         brief("iso", &Brief::iso),
         brief("chart", &Brief::chart),
         laterColumn<Row>("document", [](const Row &row) { return documentOf(*row.calibration); })}};
    return table;
}

template <> const Table<JobChart> &tableOf<JobChart>()
{
    using Row = JobChart;
    static const Table<Row> table{
        "chart",
        {column<Row>("id", &Row::id), column<Row>("label", &Row::label), column<Row>("in_use", &Row::inUse),
         textColumn<Row>(
             "document", [](const Row &row) { return documentOf(row.definition); }, readChart)}};
    return table;
}

template <> const Table<JobProbe> &tableOf<JobProbe>()
{
    using Row = JobProbe;
    const auto place = [](const char *name, auto member) { return column<Row>(name, &Row::place, member); };
    auto radius = place("radius", &ProbePlace::radius);
    radius.read = [read = radius.read](const Statement &from, int at, Row &row) {
        static_cast<void>(read(from, at, row)); // the last of the place's columns
        return check(row.place);
    };
    static const Table<Row> table{"probe",
                                  {column<Row>("id", &Row::id), column<Row>("frame", &Row::frame),
                                   place("name", &ProbePlace::name), place("x", &ProbePlace::x),
                                   place("y", &ProbePlace::y), radius,
                                   column<Row>("proposed", &Row::isProposed)}};
    return table;
}

template <> const Table<JobTarget> &tableOf<JobTarget>()
{
    using Row = JobTarget;
    const auto lab = [](const char *name, auto member) {
        return column<Row>(name, &Row::target, &ProbeTarget::lab, member);
    };
    static const Table<Row> table{"target",
                                  {column<Row>("id", &Row::id),
                                   column<Row>("name", &Row::target, &ProbeTarget::name), lab("l", &Lab::l),
                                   lab("a", &Lab::a), lab("b", &Lab::b),
                                   column<Row>("tolerance", &Row::target, &ProbeTarget::tolerance)}};
    return table;
}

template <> const Table<JobDelivery> &tableOf<JobDelivery>()
{
    using Row = JobDelivery;
    static const Table<Row> table{
        "delivery",
        {column<Row>("id", &Row::id), column<Row>("title", &Row::title), column<Row>("plan", &Row::plan)}};
    return table;
}

} // namespace wavechroma::sql
