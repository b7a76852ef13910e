#include "core/report/record_report.h"

#include "core/base/filled.h"
#include "core/base/number_text.h"
#include "core/base/said.h"
#include "core/figures/drift_figure.h"
#include "core/figures/proof_figures.h"
#include "core/fit/calibration.h"
#include "core/words/agreement_words.h"
#include "core/words/drift_words.h"
#include "core/words/fit_words.h"
#include "core/words/record_words.h"

#include <algorithm>
#include <utility>

namespace wavechroma {

namespace {

std::string filled(const char *sentence, const words::Places &places = {})
{
    return words::filled(sentence, places, words::plain());
}

std::string camera(const CameraFacts &facts)
{
    auto out = facts.model.empty() ? facts.make : facts.model;
    if (!facts.lens.empty())
        out += ", " + facts.lens;
    return out;
}

class RecordReport
{
public:
    RecordReport(const JobRecord &record, const RecordPictures &pictures, Report &to)
        : m_record(record), m_pictures(pictures), m_to(to), m_width(textWidth(to.paper))
    {
    }

    void write()
    {
        writeSummary();
        for (const auto &station : m_record.stations)
            writeStation(station);
        writeObjects();
        writeAgreement();
        writeFiles();
    }

private:
    using Kind = Paragraph::Kind;
    void heading(int level, const std::string &what, bool onNewPage = false)
    {
        m_to.blocks.push_back(Heading{level, what, onNewPage});
    }
    void paragraph(const std::string &what, Kind kind = Kind::Plain)
    {
        if (!what.empty())
            m_to.blocks.push_back(Paragraph{what, kind});
    }

    void writeSummary()
    {
        heading(1, words::verdict(m_record));
        paragraph(words::scope(m_record), Kind::Lead);
        paragraph(words::heldTo(m_record.sheet), Kind::Boxed);
        ReportTable table{{{filled(words::said("Station")), 4.6},
                           {filled(words::said("Unseen ΔE")), 1, true},
                           {filled(words::said("95 % between")), 1.4, true},
                           {filled(words::said("Greys")), 0.8, true},
                           {"", 1.6, true}},
                          {}};
        constexpr size_t kMostRows = 12; // the first page is for reading
        for (const auto &station : m_record.stations) {
            if (table.rows.size() == kMostRows)
                break;
            const auto &f = station.figures;
            if (f && !station.passes())
                table.boldRows.push_back(table.rows.size());
            table.rows.push_back(
                {station.name, f ? fixedText(f->unseenMean, 1) : "",
                 f ? fixedText(f->interval.low, 1) + " – " + fixedText(f->interval.high, 1) : "",
                 f ? fixedText(f->neutralMax, 1) : "", words::stationVerdict(station)});
        }
        m_to.blocks.push_back(table);
        if (m_record.stations.size() > kMostRows)
            paragraph(filled("{n:0} more stations follow on their own pages.",
                             {{"n", double(m_record.stations.size() - kMostRows)}}));
        writeChips();
        heading(3, filled(words::said("What was delivered")));
        paragraph(words::delivered(m_record));
    }

    /// The worst place of each thing with a target.
    void writeChips()
    {
        std::vector<const Probe *> worst;
        for (const auto &object : m_record.objects) {
            const auto &probe = object.probe;
            if (!probe.within)
                continue;
            const auto same = std::find_if(worst.begin(), worst.end(),
                                           [&](const Probe *p) { return p->place.name == probe.place.name; });
            if (same == worst.end())
                worst.push_back(&probe);
            else if (probe.de00 > (*same)->de00)
                *same = &probe;
        }
        if (worst.empty())
            return;
        std::vector<RingChip> chips;
        std::stable_sort(worst.begin(), worst.end(),
                         [](const Probe *a, const Probe *b) { return a->de00 > b->de00; });
        constexpr size_t kMostChips = 16;
        worst.resize(std::min(worst.size(), kMostChips));
        for (const auto *probe : worst)
            chips.push_back(
                {probe->place.name,
                 filled(*probe->within ? words::said("ΔE {de:1}") : words::said("ΔE {de:1}, fails"),
                        {{"de", probe->de00}}),
                 *probe->lab, probe->target->lab, !*probe->within});
        heading(3, filled(words::said("The products themselves")));
        m_to.blocks.push_back(ReportFigures{{ringChips(chips, m_width)},
                                            filled("Ring: target. Core: as delivered. Of things on several "
                                                   "frames, the place that is furthest off.")});
        const auto out = words::outOfLimits(m_record);
        constexpr size_t kMost = 3; // the page is for reading; the list is further on
        for (size_t i = 0; i < std::min(kMost, out.size()); ++i)
            paragraph(out[i]);
        if (out.size() > kMost)
            paragraph(
                filled("{n:0} more are listed with the products.", {{"n", double(out.size() - kMost)}}));
    }

    void writeStation(const RecordStation &station)
    {
        heading(1, station.name, true);
        paragraph(words::setup(station.setup));
        picture(m_pictures.setups, station.name, filled(words::said("The set.")));
        if (station.figures)
            writeFigures(station);
        else
            paragraph(station.why == "white-alone"
                          ? filled("A grey says what white is here; colours are by the file's own matrix and "
                                   "are not proved.")
                          : filled("No chart frame speaks for this station; its colours are not proved."));
        if (!station.drift.empty())
            writeDrift(station);
        writeFrames(station);
    }

    void picture(const std::map<std::string, ReportPicture> &from, const std::string &key,
                 const std::string &caption)
    {
        const auto found = from.find(key);
        if (found == from.end())
            return;
        auto one = found->second;
        one.caption = caption;
        m_to.blocks.push_back(ReportPictures{{one}});
    }

    void writeFigures(const RecordStation &station)
    {
        const auto &calibration = *station.calibration;
        const auto &f = *station.figures;
        heading(2, filled("The chart as it was seen and as it should be"));
        picture(m_pictures.charts, station.name,
                filled("{image}, {camera}.",
                       {{"image", station.reading->image}, {"camera", camera(station.reading->camera)}}));
        m_to.blocks.push_back(ReportFigures{
            {flatChart(*station.proof, station.chart, 0.5 * m_width),
             chromaPlane(*station.proof, 0.34 * m_width)},
            filled("Left: ring as it should be, core as it came out. Right: a* and b*, with tails from the "
                   "reference to the result.")});
        m_to.blocks.push_back(ReportTable{
            {{filled("Error on patches that the fit has not seen"), 4.2}, {"", 1.6, true}},
            {{filled(words::said("Mean, ΔE2000")), fixedText(f.unseenMean, 2)},
             {filled("Holds with 95 % between"),
              fixedText(f.interval.low, 2) + " – " + fixedText(f.interval.high, 2)},
             {filled("On the fitted patches, ΔE2000"), fixedText(f.fitMean, 2)},
             {filled("Worst patch, ΔE2000"), f.worstPatch + " " + fixedText(f.worst, 2)},
             {filled("Worst grey, ΔE2000"), fixedText(f.neutralMax, 2)},
             {filled(words::said("Parts")), calibration.parts.colour + ", " + calibration.parts.tone},
             {filled(words::said("Light")), calibration.light.name}}});
        paragraph(words::takenOut(calibration.takenOut, lightRangeOf(calibration.takenOut)));
        m_to.blocks.push_back(
            ReportFigures{{errorLengths(*station.proof, m_record.sheet.proof.patch, 0.62 * m_width, 110),
                           greyCast(*station.proof, station.chart, 0.33 * m_width, 110)},
                          filled("Left: error of each patch; the dashed line is the limit of one patch. "
                                 "Right: lightness (bold), "
                                 "a* and b* (dashed) of the greys, dark to light.")});
        writeRequirements(station);
    }

    void writeRequirements(const RecordStation &station)
    {
        heading(2, filled(words::said("Tolerances")));
        ReportTable table{{{filled(words::said("Requirement")), 3.4},
                           {filled(words::said("Measured")), 1.3, true},
                           {filled(words::said("Limit")), 1.3, true},
                           {"", 0.8, true}},
                          {}};
        std::vector<std::string> remarks;
        for (const auto &one : station.requirements) {
            if (!one.passes)
                table.boldRows.push_back(table.rows.size());
            table.rows.push_back({words::requirement(one.id), words::amount(one.value, one.unit),
                                  one.limit != 0 ? words::amount(one.limit, one.unit) : "",
                                  filled(one.passes ? words::said("pass") : words::said("fail"))});
            if (!one.said.empty())
                remarks.push_back(one.said);
        }
        m_to.blocks.push_back(table);
        paragraph(words::joined(remarks));
    }

    void writeDrift(const RecordStation &station)
    {
        heading(2, filled(words::said("Since then")));
        std::vector<DriftPoint> points;
        if (station.reading && station.proof)
            points.push_back({station.reading->camera.capturedAt, station.proof->summary.mean, 0, 0,
                              station.proof->summary.mean <= m_record.sheet.proof.mean});
        for (const auto &check : station.drift)
            points.push_back({check.capturedAt, check.mean, check.levelStops,
                              check.light ? check.light->mired : 0, check.passes});
        m_to.blocks.push_back(
            ReportFigures{{controlChart(points, m_record.sheet.proof.mean, m_width, 150)},
                          filled("Open: passes. Full: fails. The dashed line is the limit of "
                                 "the mean.")});
        for (const auto &check : station.drift)
            paragraph(check.image + ": " + words::drift(check));
    }

    void writeFrames(const RecordStation &station)
    {
        heading(2, filled(words::said("Frames")));
        ReportTable table{
            {{filled(words::said("File")), 2.6}, {filled(words::said("Part")), 1}, {"SHA-256", 5.2}}, {}};
        for (const auto &frame : station.frames)
            table.rows.push_back(
                {frame.path,
                 words::framePart(frame.part) + (frame.setAside ? filled(words::said(", set aside")) : ""),
                 frame.sha256});
        m_to.blocks.push_back(table);
    }

    void writeObjects()
    {
        if (m_record.objects.empty())
            return;
        heading(1, filled(words::said("Products")), true);
        std::string shown;
        ReportTable table{{{filled(words::said("Thing")), 2},
                           {filled(words::said("Frame")), 2.4},
                           {"L*", 0.8, true},
                           {"a*", 0.8, true},
                           {"b*", 0.8, true},
                           {filled(words::said("Target")), 2, true},
                           {"ΔE", 0.8, true},
                           {"", 1, true}},
                          {}};
        for (const auto &object : m_record.objects) {
            const auto &p = object.probe;
            if (p.within && !*p.within)
                table.boldRows.push_back(table.rows.size());
            const auto lab = [](const Lab &c) {
                return fixedText(c.l, 1) + "  " + fixedText(c.a, 1) + "  " + fixedText(c.b, 1);
            };
            table.rows.push_back(
                {p.place.name, object.image, p.lab ? fixedText(p.lab->l, 1) : p.why,
                 p.lab ? fixedText(p.lab->a, 1) : "", p.lab ? fixedText(p.lab->b, 1) : "",
                 p.target ? lab(p.target->lab) : "", p.target && p.lab ? fixedText(p.de00, 1) : "",
                 !p.within ? "" : filled(*p.within ? words::said("pass") : words::said("fail"))});
        }
        m_to.blocks.push_back(table);
        ReportPictures row;
        const auto close = [&] {
            if (!row.pictures.empty())
                m_to.blocks.push_back(std::exchange(row, {}));
        };
        for (const auto &object : m_record.objects) {
            const auto picture = m_pictures.objects.find(object.image);
            if (object.image == shown || picture == m_pictures.objects.end())
                continue;
            shown = object.image;
            row.pictures.push_back(picture->second);
            row.pictures.back().caption = shown;
            if (row.pictures.size() == 2)
                close();
        }
        close();
    }

    void writeAgreement()
    {
        if (!m_record.agreement)
            return;
        const auto &agreement = *m_record.agreement;
        heading(1, filled("Does the same thing get the same colour everywhere?"), true);
        paragraph(words::agreement(agreement), Kind::Lead);
        ReportTable table{{{filled(words::said("Thing")), 3},
                           {filled(words::said("Kind")), 1.2},
                           {filled(words::said("Stations")), 1, true},
                           {filled(words::said("White balance alone")), 1.6, true},
                           {filled(words::said("Now, ΔE")), 1.2, true}},
                          {}};
        const auto add = [&](std::vector<AgreedThing> things, const std::string &kind) {
            std::sort(things.begin(), things.end(),
                      [](const auto &a, const auto &b) { return a.spread > b.spread; });
            for (const auto &thing : things)
                table.rows.push_back({thing.id, kind, std::to_string(thing.lab.size()),
                                      fixedText(thing.spreadPlain, 2), fixedText(thing.spread, 2)});
        };
        add(agreement.objects, filled(words::said("object")));
        add(agreement.patches, filled(words::said("patch")));
        m_to.blocks.push_back(table);
    }

    void writeFiles()
    {
        if (!m_record.deliveries.empty()) {
            heading(1, filled(words::said("Delivered files")), true);
            ReportTable table{
                {{filled(words::said("File")), 3}, {filled(words::said("From")), 2}, {"SHA-256", 5}}, {}};
            for (const auto &receipt : m_record.deliveries)
                table.rows.push_back({receipt.path, receipt.source, receipt.sha256});
            m_to.blocks.push_back(table);
        }
        if (m_record.unread.empty())
            return;
        heading(2, filled("Files that could not be read"));
        for (const auto &file : m_record.unread)
            paragraph(file);
    }

    const JobRecord &m_record;
    const RecordPictures &m_pictures;
    Report &m_to;
    double m_width;
};

} // namespace

Report reportOf(const JobRecord &record, const RecordPictures &pictures, Paper paper,
                const std::string &recordHash)
{
    Report out;
    out.title = record.title;
    out.date = record.madeAt.substr(0, 10);
    out.madeAt = record.madeAt;
    out.madeWith = record.madeWith;
    out.paper = paper;
    if (!recordHash.empty())
        out.foot = filled("Record {hash}", {{"hash", recordHash.substr(0, 16)}});
    RecordReport(record, pictures, out).write();
    return out;
}

} // namespace wavechroma
