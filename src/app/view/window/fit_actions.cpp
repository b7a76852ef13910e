// What the fit is given, and matching cameras.
#include "app/view/window/fit_actions.h"
#include "app/model/spoken.h"
#include "app/view/bench/fit/sector_dialog.h"
#include "app/view/handover/handover.h"
#include "core/tasks/export_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/match_task.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/serve_task.h"
#include "core/words/fit_words.h"

#include <QFileDialog>
#include <QInputDialog>

namespace wavechroma::app {

FitActions::FitActions(Desk *desk) : ActionGroup(desk) {}

MenuRows FitActions::rows()
{
    const auto fitted = needs(&Availability::fitted);
    const auto read = needs(&Availability::read);
    const auto lean = [this](int reds, int chroma, int contrast = 0) {
        return [this, reds, chroma, contrast] {
            auto next = m_bench->facts().chosen()->lean;
            next.reds += reds;
            next.chroma += chroma;
            next.contrast += contrast;
            editor()->leanColour(next);
        };
    };
    using enum ActionRow::Place;
    return {
        tr("&Fit"),
        {{"eachReading", tr("Choose Parts Automatically"), "",
          tr("The colour and tone that serve all charts of the job best"), needs(&Availability::writable),
          [this] { editor()->chooseParts({}); }},
         {"weights", tr("Weight Patches…"), "",
          tr("Patches that matter most: greys, skin, or the colours of a product"), fitted,
          [this] { askForWeights(); }, NewGroup},
         named({"merge", tr("Merge Bracket and Repeats"), "",
                tr("Fit from all frames of this bracket; noisier patches count less. Choose again to fit "
                   "from this "
                   "frame alone"),
                fitted, [this] { editor()->mergeReadings(); }},
               [](const Availability &now) {
                   return now.isMerged ? tr("Separate Merged Readings") : tr("Merge Bracket and Repeats");
               }),
         named({"fitThings", tr("Fit with Probes"), "",
                tr("Probes with targets on the frames that this chart serves count as patches; what that "
                   "bought "
                   "is said below"),
                fitted, [this] { editor()->fitKnownThings(); }},
               [](const Availability &now) {
                   return now.hasThings ? tr("Fit without Probes") : tr("Fit with Probes");
               }),
         {"fitLight", tr("Light of the Fit…"), "",
          tr("A CIE name, a temperature or a measured spectrum, if the estimate is not good enough"), fitted,
          [this] { askForFitLight(); }},
         {"asUnderLight", tr("References as Under This Light"), "",
          tr("Fit to the chart's colours as they looked under this light"), fitted,
          [this] { editor()->useAppearance(Appearance::UnderLight); }, OfBench},
         {"asUnderD50", tr("References as Under D50"), "",
          tr("Fit to the chart's colours under D50: the same object, the same colour, whatever the light"),
          fitted, [this] { editor()->useAppearance(Appearance::UnderD50); }, OfBench},
         {"redsCalmer", tr("Reds a Step Calmer"), "", tr("For skin: duller and a little yellower"), fitted,
          lean(-1, 0), NewGroup},
         {"redsRicher", tr("Reds a Step Richer"), "", tr("The opposite step"), fitted, lean(1, 0)},
         {"chromaLivelier", tr("Chroma a Step Livelier"), "", tr("Stronger middle colours"), fitted,
          lean(0, 1)},
         {"chromaQuieter", tr("Chroma a Step Quieter"), "", tr("The opposite step"), fitted, lean(0, -1)},
         {"contrastHarder", tr("Contrast a Step Harder"), "",
          tr("Lightness alone: lighter lights, darker darks"), fitted, lean(0, 0, 1)},
         {"contrastSofter", tr("Contrast a Step Softer"), "", tr("The opposite step"), fitted,
          lean(0, 0, -1)},
         {"sectors", tr("Sectors of Hue…"), "", tr("Hue, chroma and lightness of eight sectors, in steps"),
          fitted, [this] { openSectors(); }},
         {"exact", tr("Exact Colours"), "", tr("No colour lean: for products and artworks"), fitted,
          [this] { editor()->leanColour({}); }},
         {"match", tr("Look Like…"), "",
          tr("Fit a calibration that gives this camera another one's colours, or those of its own picture"),
          read, [this] { chooseMatch(); }, NewGroup},
         {"keepReference", tr("Save Patches as a Reference"), "",
          tr("Save what this camera saw, so that another camera can be matched to it"), read,
          [this] { keepReference(); }, OfBench}}};
}

void FitActions::openSectors()
{
    const auto *chosen = m_bench->facts().chosen();
    auto *dialog = new SectorDialog(chosen->lean, window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &SectorDialog::leanAsked, this,
            [this](const ColourLean &lean) { editor()->leanColour(lean); });
    connect(dialog, &SectorDialog::refused, this, [this](const QString &why) { showMessage(why); });
    connect(dialog, &SectorDialog::tableAsked, this, [this, dialog] { readSectors(dialog); });
    dialog->open();
}

void FitActions::readSectors(SectorDialog *dialog)
{
    const auto file = QFileDialog::getOpenFileName(dialog, tr("Read a Table of Sectors"), handoverFolder(),
                                                   tr("Tables (*.csv)"));
    const auto *chosen = m_bench->facts().chosen();
    if (file.isEmpty() || !chosen)
        return;
    const auto lean = leanFromSectors(*chosen, file.toStdString());
    if (!lean)
        return showMessage(text(lean.error()));
    dialog->show(*lean);
    editor()->leanColour(*lean);
}

void FitActions::askForWeights()
{
    auto *dialog =
        question(tr("Weight Patches"),
                 tr("A set, patches as in D1=4,C3=0.5, or colours as in near:52,40,20 (L*, a*, b*):"));
    QStringList sets{"even", "neutrals", "skin"};
    const auto now = editor()->weights();
    if (!sets.contains(now))
        sets.prepend(now);
    dialog->setComboBoxItems(sets);
    dialog->setComboBoxEditable(true);
    dialog->setTextValue(now);
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this](const QString &words) { editor()->useWeights(words.simplified().remove(' ')); });
    dialog->open();
}

void FitActions::askForFitLight()
{
    auto *dialog =
        question(tr("Light of the Fit"), tr("A, D50, D65, a temperature such as 4100K, or a spectrum file "
                                            "(nm,value).\nEmpty: estimated from the neutral."));
    const auto *chosen = m_bench->facts().chosen();
    dialog->setTextValue(chosen && !chosen->light.estimated && chosen->light.name != "unknown"
                             ? QString::fromStdString(chosen->light.name)
                             : QString());
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this](const QString &words) { editor()->fitUnderLight(words.trimmed()); });
    dialog->open();
}

/// A frame's reading as a file in the job's handover folder; empty, with words, when it cannot be written.
static QString referenceFile(const JobDocument &job, const QString &folder, RowId frame, QString *problem)
{
    const auto *row = job.state().frame(frame);
    const auto *reading = job.state().readingOf(frame);
    if (!row || !reading)
        return {};
    if (const auto &fault = reading->reading.fault()) {
        *problem = text(*fault);
        return {};
    }
    const auto file = std::filesystem::path(folder.toStdString()) /
                      (std::filesystem::path(row->path).stem().string() + ".reading.json");
    const auto written = saveReading(file, *reading->reading);
    if (!written)
        *problem = text(written.error());
    return written ? text(file.string()) : QString();
}

void FitActions::keepReference()
{
    QString problem;
    const auto file = referenceFile(m_job, handoverFolder(), m_job.currentFrame(), &problem);
    showMessage(file.isEmpty() ? problem : tr("Saved as %1.").arg(file));
}

static std::string fileName(const std::filesystem::path &path)
{
    return path.filename().string();
}

/// Other charts of the job, and the picture that the camera made with this one.
std::vector<FitActions::Look> FitActions::looks() const
{
    const auto *here = m_job.state().frame(m_job.currentFrame());
    std::vector<Look> out;
    if (!here)
        return out;
    if (!here->picture.empty())
        out.push_back({tr("the camera's own picture: %1").arg(text(fileName(here->picture))), 0,
                       m_job.job().folder() / here->picture});
    for (const auto &frame : m_job.state().frames)
        if (const auto *reading = m_job.state().readingOf(frame.id);
            reading && reading->brief.found && frame.part == FramePart::Chart && !frame.setAside &&
            !samePair(frame.camera, here->camera))
            out.push_back({text(frame.camera.model + ", " + frame.camera.lens + ": " + fileName(frame.path)),
                           frame.id,
                           {}});
    return out;
}

void FitActions::chooseMatch()
{
    const auto all = looks();
    if (all.empty())
        return showMessage(
            tr("No chart frame of another camera or lens, and no picture of this one, is in this job."));
    QStringList names;
    for (const auto &look : all)
        names << look.name;
    auto *dialog =
        question(tr("Look Like…"),
                 tr("Make %1 look like:").arg(text(m_job.state().frame(m_job.currentFrame())->camera.model)));
    dialog->setComboBoxItems(names);
    connect(dialog, &QInputDialog::textValueSelected, this, [this, names, all](const QString &chosen) {
        if (const auto at = names.indexOf(chosen); at >= 0)
            matchTo(all[size_t(at)]);
    });
    dialog->open();
}

void FitActions::matchTo(const Look &look)
{
    const auto *here = m_job.state().frame(m_job.currentFrame());
    const auto *other = m_job.state().readingOf(look.frame);
    if (!here || !m_bench->facts().reading)
        return;
    if (other && other->reading.fault())
        return showMessage(text(*other->reading.fault()));
    const auto seen = look.frame ? m_job.state().frame(look.frame)->path : look.picture.string();
    const auto kept = std::filesystem::path(handoverFolder().toStdString()) /
                      (std::filesystem::path(seen).stem().string() + ".reading.json");
    FitRequest request;
    request.ask.parts = m_job.state().title.parts;
    request.sha256 = here->sha256;
    request.ask.name = here->camera.model + " as " +
                       (look.frame ? m_job.state().frame(look.frame)->camera.model : fileName(seen)) + ", " +
                       here->camera.capturedAt.substr(0, 10);
    m_tasks.run<Calibration>(
        {"match", tr("fitting to the other picture"), true},
        [reading = *m_bench->facts().reading, request, kept, picture = look.picture,
         other = other ? std::optional(*other->reading) : std::nullopt](const Progress &progress) {
            return other ? fitToReading(reading, *other, kept, request, progress)
                         : fitToPicture(reading, picture, kept, request, progress);
        },
        this,
        [this, chart = here->id](const Result<Calibration> &matched) {
            if (!matched)
                return showMessage(text(matched.error()));
            serveLook(chart, *matched);
        });
}

/// The product frames of the chart's station are served by it; where there are none, its profiles are
/// planned.
void FitActions::serveLook(RowId chart, const Calibration &matched)
{
    QString said =
        tr("The two differ by ΔE %1 on unseen patches.").arg(fixed(matched.crossValidated.mean, 2));
    for (const auto &warning : matched.warnings)
        said += " " + text(words::warning(warning, spoken()));
    std::vector<RowId> products;
    if (const auto *station = m_job.stations().of(chart))
        for (const auto id : station->frames)
            if (const auto *frame = m_job.state().frame(id);
                frame->part == FramePart::Product && !frame->setAside && !m_job.isReadOnly())
                products.push_back(id);
    if (products.empty()) {
        showMessage(said);
        return openProfilesOf(matched);
    }
    m_job.push(tr("Look Like…"), servedByCalibration(m_job.state(), products, matched));
    showMessage(said + " " +
                text(words::filled("{n} product {n|frame is|frames are} calibrated by it.",
                                   {{"n", double(products.size())}}, spoken())));
}

/// A calibration that is none of the job's: its document is kept in the handover folder.
void FitActions::openProfilesOf(const Calibration &calibration)
{
    const auto name = fileNameOf(calibration.name) + ".calibration.json";
    const auto file = std::filesystem::path(handoverFolder().toStdString()) / name;
    if (const auto kept = saveCalibration(file, calibration); !kept)
        return showMessage(text(kept.error()));
    m_desk->handoverPlace()->editor()->openProfilesOf(text(calibration.name), text("handover/" + name));
    m_desk->showHandover();
}

} // namespace wavechroma::app
