#include "app/view/balance_stop.h"
#include "app/view/bench.h"
#include "app/view/day_sheet.h"
#include "app/view/main_window.h"
#include "app/view/read_stop.h"

#include "app/view/export_dialog.h"
#include "app/view/task_strip.h"
#include "core/base/number_text.h"
#include "core/formats/documents.h"
#include "core/formats/names.h"
#include "core/formats/whole_file.h"

#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QMenu>
#include <QtConcurrent>

namespace wavechroma::app {

static QInputDialog *question(QWidget *parent, const QString &title, const QString &words)
{
    auto *dialog = new QInputDialog(parent);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(title);
    dialog->setLabelText(words);
    return dialog;
}

void MainWindow::makeBalanceActions()
{
    const QString menu = tr("&Balance");
    auto *view = m_bench->readStop()->view();
    add(menu, "neutralArea", tr("Neutral from an Area"), QKeySequence("Ctrl+Alt+A"),
        tr("Two clicks round something neutral in the frame, where no chart is"), [this, view] {
            m_bench->openStop(1);
            view->startTool(FrameView::Tool::Area);
        });
    add(menu, "neutralWhole", tr("Neutral from the Whole Frame"), QKeySequence("Ctrl+Alt+W"),
        tr("For a frame through a diffuser, or filled by a grey board"),
        [this] { m_bench->balanceFromWholeFrame(); });
    add(menu, "balanceLight", tr("For a Light…"), QKeySequence("Ctrl+Alt+L"),
        tr("Kelvin and Duv, through this camera's own calibration"), [this] { askForLight(); });
    add(menu, "neutralDefault", tr("Back to the Chart's Grey"), QKeySequence("Ctrl+Alt+D"),
        tr("The lightest mid-grey that is not burnt"), [this] { m_bench->dropBalance(); });
    m_menus[menu]->addSeparator();
    const struct
    {
        const char *name;
        QString text, key;
        double warmer, rosier;
    } leans[] = {{"warmer", tr("Lean Warmer"), "Alt+Up", 1, 0},
                 {"cooler", tr("Lean Cooler"), "Alt+Down", -1, 0},
                 {"rosier", tr("Lean Rosier"), "Alt+Right", 0, 1},
                 {"greener", tr("Lean Greener"), "Alt+Left", 0, -1}};
    for (const auto &lean : leans)
        add(menu, lean.name, lean.text, QKeySequence(lean.key),
            tr("One step: a unit of a*b* on a grey of L* 65"),
            [this, lean] { m_bench->leanBy(lean.warmer, lean.rosier); });
    add(menu, "noLean", tr("No Lean"), QKeySequence("Alt+Home"), tr("The neutral as it was picked"),
        [this] { m_bench->leanTo({}); });
    m_menus[menu]->addSeparator();
    add(menu, "keepPreset", tr("Keep as Preset…"), QKeySequence("Ctrl+Alt+S"),
        tr("A file with the balance, its camera, lens and setup"), [this] { keepPreset(); });
    add(menu, "usePreset", tr("Use a Preset…"), QKeySequence("Ctrl+Alt+O"),
        tr("For this frame and those of its lane"), [this] { choosePreset(); });
    m_menus[menu]->addSeparator();
    add(menu, "weights", tr("Weigh the Patches…"), QKeySequence("Ctrl+Alt+E"),
        tr("What the fit is to get right before all: greys, skin, a product's own colours"),
        [this] { askForWeights(); });
    add(menu, "merge", tr("Merge Bracket and Repeats"), QKeySequence("Ctrl+Alt+B"),
        tr("Fit from all chart frames shot in one go here, each patch weighted by its noise; again: from "
           "this frame alone"),
        [this] { m_bench->mergeReadings(); });
    add(menu, "fitLight", tr("Tell the Fit Its Light…"), QKeySequence("Ctrl+Alt+T"),
        tr("A CIE name, a temperature or a measured spectrum, where the neutral's estimate is not enough"),
        [this] { askForFitLight(); });
    add(menu, "asUnderLight", tr("References as Under This Light"), QKeySequence("Ctrl+Alt+U"),
        tr("What the chart's spectra looked like on the set; the fit is easier, and true for that set"),
        [this] { m_bench->useAppearance(Appearance::UnderLight); });
    add(menu, "asUnderD50", tr("References as Under D50"), QKeySequence("Ctrl+Alt+I"),
        tr("What they would look like under D50: the same object, the same colour, whatever the light"),
        [this] { m_bench->useAppearance(Appearance::UnderD50); });
    m_menus[menu]->addSeparator();
    add(menu, "exact", tr("Exact Colours"), QKeySequence("Ctrl+Alt+1"), tr("For products and artworks"),
        [this] { m_bench->useCharacter(Character::Exact); });
    add(menu, "calmReds", tr("Calm Reds"), QKeySequence("Ctrl+Alt+2"),
        tr("For skin: reds a little duller and yellower"),
        [this] { m_bench->useCharacter(Character::CalmReds); });
    add(menu, "lively", tr("Lively Colours"), QKeySequence("Ctrl+Alt+3"),
        tr("For show: middling colours stronger"), [this] { m_bench->useCharacter(Character::Lively); });
}

void MainWindow::makeMatchActions()
{
    const QString menu = tr("&Chart");
    m_menus[menu]->addSeparator();
    add(menu, "keepReference", tr("Keep Patches as a Reference"), QKeySequence("Ctrl+Alt+R"),
        tr("What this camera saw, as a file that another can be fitted to"), [this] { keepReference(); });
    add(menu, "match", tr("Match to Another Camera…"), QKeySequence("Ctrl+Alt+M"),
        tr("A calibration that makes this camera's colours the other one's, to export"),
        [this] { chooseMatch(); });
}

/// A frame's reading as a file in the job's handover folder; empty, with words, when it cannot be written.
static QString referenceFile(const JobDocument &job, RowId frame, QString *problem)
{
    const auto *row = job.state().frame(frame);
    const auto *reading = job.state().readingOf(frame);
    if (!row || !reading)
        return {};
    const auto folder = job.store()->folder() / "handover";
    QDir().mkpath(QString::fromStdString(folder.string()));
    const auto file = folder / (std::filesystem::path(row->path).stem().string() + ".reading.json");
    const auto written = writeWhole({{file, bytesOf(documentOf(reading->reading))}});
    if (!written)
        *problem = QString::fromStdString(written.error().message);
    return written ? QString::fromStdString(file.string()) : QString();
}

void MainWindow::keepReference()
{
    QString problem;
    const auto file = referenceFile(m_job, m_job.currentFrame(), &problem);
    showMessage(file.isEmpty() ? problem : tr("Kept as %1.").arg(file));
}

void MainWindow::chooseMatch()
{
    const auto *here = m_job.state().frame(m_job.currentFrame());
    if (!here)
        return;
    QStringList names;
    std::vector<RowId> frames;
    for (const auto &frame : m_job.state().frames)
        if (const auto *reading = m_job.state().readingOf(frame.id);
            reading && reading->reading.found && !frame.setAside && !samePair(frame.camera, here->camera)) {
            names << QString::fromStdString(frame.camera.model + ", " + frame.camera.lens + ": " +
                                            std::filesystem::path(frame.path).filename().string());
            frames.push_back(frame.id);
        }
    if (frames.empty())
        return showMessage(tr("No chart frame of another camera or lens is in this job."));
    auto *dialog = question(this, tr("Match to Another Camera"),
                            tr("Make %1 look like:").arg(QString::fromStdString(here->camera.model)));
    dialog->setComboBoxItems(names);
    connect(dialog, &QInputDialog::textValueSelected, this, [this, names, frames](const QString &chosen) {
        if (const auto at = names.indexOf(chosen); at >= 0)
            matchTo(frames[size_t(at)]);
    });
    dialog->open();
}

void MainWindow::matchTo(RowId other)
{
    QString problem;
    const auto file = referenceFile(m_job, other, &problem);
    if (file.isEmpty())
        return showMessage(problem);
    FitRequest request;
    request.model = m_job.state().title.chosenModel;
    request.reference = file.toStdString();
    const auto *here = m_job.state().frame(m_job.currentFrame()), *there = m_job.state().frame(other);
    request.sha256 = here->sha256;
    request.name =
        here->camera.model + " as " + there->camera.model + ", " + there->camera.capturedAt.substr(0, 10);
    m_strip->showMessage(tr("Fitting to the other camera."));
    QtConcurrent::run([reading = *m_bench->facts().reading, request] {
        return fitReading(reading, request);
    }).then(this, [this](const Result<Calibration> &matched) {
        if (!m_job.isOpen())
            return; // closed while it was worked out
        if (!matched)
            return showMessage(QString::fromStdString(matched.error().message));
        QString words = tr("On patches left out in turn the two differ by ΔE %1.")
                            .arg(QString::fromStdString(fixedText(matched->crossValidated.mean, 2)));
        for (const auto &warning : matched->warnings)
            words += " " + QString::fromStdString(warning);
        showMessage(words);
        exportThis({*matched, {1, 1, 1}, {}, {}, {}});
    });
}

void MainWindow::askForLight()
{
    const auto &balance = m_bench->facts().balance;
    const auto light = balance && balance->temperature ? *balance->temperature : Temperature{5000, 0};
    auto *dialog = question(this, tr("Balance for a Light"), tr("Kelvin and, if known, Duv: 5000K,+0.002"));
    dialog->setTextValue(QString("%1K,%2%3")
                             .arg(light.cctKelvin, 0, 'f', 0)
                             .arg(light.duv < 0 ? "" : "+")
                             .arg(light.duv, 0, 'f', 4));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &words) {
        const auto asked = temperatureFrom(words.simplified().remove(' ').toStdString());
        if (!asked)
            return showMessage(QString::fromStdString(asked.error().message));
        m_bench->openStop(2);
        m_bench->balanceFromLight(*asked);
    });
    dialog->open();
}

void MainWindow::askForFitLight()
{
    auto *dialog = question(this, tr("Tell the Fit Its Light"),
                            tr("A, D50, D65, a temperature as 4100K, or a spectrum file (nm,value).\nEmpty: "
                               "estimated from the neutral."));
    const auto *chosen = m_bench->facts().chosen();
    dialog->setTextValue(chosen && !chosen->light.estimated && chosen->light.name != "unknown"
                             ? QString::fromStdString(chosen->light.name)
                             : QString());
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this](const QString &words) { m_bench->fitUnderLight(words.trimmed()); });
    dialog->open();
}

void MainWindow::askForWeights()
{
    auto *dialog =
        question(this, tr("Weigh the Patches"),
                 tr("A set, patches as in D1=4,C3=0.5, or colours as in near:52,40,20 (L*, a*, b*):"));
    QStringList sets{"even", "neutrals", "skin"};
    const auto now = m_bench->weights();
    if (!sets.contains(now))
        sets.prepend(now);
    dialog->setComboBoxItems(sets);
    dialog->setComboBoxEditable(true);
    dialog->setTextValue(now);
    connect(dialog, &QInputDialog::textValueSelected, this,
            [this](const QString &words) { m_bench->useWeights(words.simplified().remove(' ')); });
    dialog->open();
}

void MainWindow::keepPreset()
{
    auto *dialog = question(this, tr("Keep as Preset"), tr("Its name:"));
    dialog->setTextValue(m_bench->balanceStop()->figure(m_bench->facts()));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &name) {
        if (name.trimmed().isEmpty())
            return;
        const auto folder = QString::fromStdString((m_job.store()->folder() / "handover").string());
        QDir().mkpath(folder);
        const auto file =
            folder + "/" + QString::fromStdString(fileNameOf(name.toStdString())) + ".balance.json";
        if (m_bench->keepPreset(file, name.trimmed()))
            showMessage(tr("Kept as %1.").arg(file));
    });
    dialog->open();
}

/// The frames of the lane that the bench's frame stands in: one setup, one camera and lens.
static std::vector<RowId> laneOf(const JobState &state, RowId frame)
{
    for (const auto &lane : lanesOf(state)) {
        std::vector<RowId> ids;
        bool here = false;
        for (const auto *each : lane.frames) {
            ids.push_back(each->id);
            here = here || each->id == frame;
        }
        if (here)
            return ids;
    }
    return {frame};
}

void MainWindow::choosePreset()
{
    const auto folder = QString::fromStdString((m_job.store()->folder() / "handover").string());
    const auto file = QFileDialog::getOpenFileName(this, tr("Use a Preset"), folder, tr("Balances (*.json)"));
    if (!file.isEmpty())
        m_bench->usePreset(file, laneOf(m_job.state(), m_job.currentFrame()));
}

} // namespace wavechroma::app
