#include "app/view/studio/studio_panel.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/chart/chart_definition.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QFormLayout>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSpinBox>
#include <QVBoxLayout>
#include <initializer_list>

namespace wavechroma::app {

static const QString kQueue = "studio";

namespace {

QComboBox *choice(const char *name)
{
    auto *box = new QComboBox;
    box->setObjectName(name);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(8);
    return box;
}

void heading(QFormLayout *form, const QString &words)
{
    auto *label = new QLabel(words);
    label->setFont(face(kHead, 600));
    form->addRow(label);
}

std::string lightOf(const sim::StudioSettings &s)
{
    return s.lamp + "/" + s.modifier + "/" + std::to_string(s.powerStops);
}

} // namespace

StudioPanel::StudioPanel(TaskRunner *tasks, QWidget *parent) : QWidget(parent), m_tasks(tasks)
{
    setObjectName("studio");
    setFixedWidth(300);
    auto *inner = new QWidget;
    auto *form = new QFormLayout(inner);
    form->setContentsMargins(14, 10, 12, 4);
    form->setVerticalSpacing(3);
    form->setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
    makeLight(form);
    makeCamera(form);
    makeTable(form);
    makeMishaps(form);
    auto *scroll = new QScrollArea;
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(inner);
    m_state = new QLabel;
    m_state->setWordWrap(true);
    m_shoot = new QPushButton(tr("Shoot"));
    m_shoot->setObjectName("shoot");
    m_shoot->setFont(face(kAnswer, 600));
    m_shoot->setMinimumHeight(40);
    m_shoot->setToolTip(tr("Press the shutter; the frame goes to the watched folder (Ctrl+Space)"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(2, 0, 0, 10);
    layout->addWidget(scroll, 1);
    auto *foot = new QVBoxLayout;
    foot->setContentsMargins(14, 0, 14, 0);
    foot->addWidget(m_state);
    foot->addWidget(m_shoot);
    layout->addLayout(foot);
    connect(m_shoot, &QPushButton::clicked, this, &StudioPanel::shoot);
    adapt();
}

bool StudioPanel::isShooting() const
{
    return m_tasks->isBusy(kQueue);
}

void StudioPanel::makeLight(QFormLayout *form)
{
    heading(form, tr("Light"));
    m_lamp = choice("lamp");
    for (const auto &lamp : sim::lamps())
        m_lamp->addItem(text(lamp.name));
    m_lamp->setCurrentText("strobe");
    m_modifier = choice("modifier");
    for (const auto &modifier : sim::modifiers())
        m_modifier->addItem(text(modifier.name));
    m_power = new QDoubleSpinBox;
    m_power->setObjectName("power");
    m_power->setRange(-4, 4);
    m_power->setSingleStep(1 / 3.0);
    m_power->setDecimals(1);
    m_power->setSuffix(tr(" stops"));
    m_tired = new QCheckBox(tr("aged: weaker and redder"));
    m_tired->setObjectName("tired");
    form->addRow(tr("Lamp"), m_lamp);
    form->addRow(tr("Modifier"), m_modifier);
    form->addRow(tr("Power"), m_power);
    form->addRow(QString(), m_tired);
    connect(m_lamp, &QComboBox::currentTextChanged, this, &StudioPanel::adapt);
    connect(m_modifier, &QComboBox::currentTextChanged, this, &StudioPanel::adapt);
    connect(m_power, &QDoubleSpinBox::valueChanged, this, &StudioPanel::adapt);
}

void StudioPanel::makeCamera(QFormLayout *form)
{
    heading(form, tr("Camera"));
    m_camera = choice("camera");
    for (const auto &camera : sim::cameras())
        m_camera->addItem(text(camera.make + " " + camera.model), text(camera.model));
    m_lens = choice("lens");
    m_iso = choice("iso");
    for (const int iso : {100, 200, 400, 800, 1600, 3200, 6400})
        m_iso->addItem(QString::number(iso), iso);
    m_time = choice("time");
    for (const int part : {8, 15, 30, 60, 80, 100, 125, 160, 200, 250, 500})
        m_time->addItem(QString("1/%1 s").arg(part), 1.0 / part);
    m_time->setCurrentText("1/100 s");
    m_aperture = choice("aperture");
    for (const double f : {4.0, 5.0, 5.6, 6.3, 7.1, 8.0, 9.0, 10.0, 11.0, 13.0, 16.0})
        m_aperture->addItem(QString("f/%1").arg(f), f);
    m_aperture->setCurrentText("f/8");
    form->addRow(tr("Body"), m_camera);
    form->addRow(tr("Lens"), m_lens);
    form->addRow(tr("ISO"), m_iso);
    form->addRow(tr("Time"), m_time);
    form->addRow(tr("Aperture"), m_aperture);
    connect(m_camera, &QComboBox::currentIndexChanged, this, &StudioPanel::showLenses);
    showLenses();
}

void StudioPanel::showLenses()
{
    m_lens->clear();
    for (const auto &lens : sim::camera(m_camera->currentData().toString().toStdString()).lenses)
        m_lens->addItem(text(lens.name));
}

void StudioPanel::makeTable(QFormLayout *form)
{
    heading(form, tr("On the table"));
    m_subject = choice("subject");
    for (const auto &[words, subject] : {std::pair{tr("chart"), sim::Subject::Chart},
                                         {tr("yarn"), sim::Subject::Skeins},
                                         {tr("even board"), sim::Subject::Board},
                                         {tr("grey card"), sim::Subject::GreyCard}})
        m_subject->addItem(words, int(subject));
    m_chart = choice("chart");
    for (const auto &chart : chartCatalogue())
        m_chart->addItem(text(chart.name), text(chart.id));
    m_width = new QSpinBox;
    m_width->setObjectName("width");
    m_width->setRange(6, 80);
    m_width->setValue(46);
    m_width->setSuffix(tr(" % of the frame"));
    m_turn = new QSpinBox;
    m_turn->setObjectName("turn");
    m_turn->setRange(-180, 180);
    m_turn->setValue(4);
    m_turn->setSuffix(tr("° turned"));
    m_yarn = new QSpinBox;
    m_yarn->setObjectName("yarn");
    m_yarn->setRange(1, 12);
    m_yarn->setPrefix(tr("lot "));
    form->addRow(tr("Subject"), m_subject);
    form->addRow(tr("Chart"), m_chart);
    form->addRow(tr("Width"), m_width);
    form->addRow(tr("Turn"), m_turn);
    form->addRow(tr("Yarn"), m_yarn);
    connect(m_subject, &QComboBox::currentIndexChanged, this, &StudioPanel::adapt);
}

void StudioPanel::makeMishaps(QFormLayout *form)
{
    heading(form, tr("Mishaps"));
    const struct
    {
        const char *name;
        QString words, why;
        bool sim::StudioSettings::*field;
    } all[] = {
        {"finger", tr("finger"), tr("A finger covers a patch"), &sim::StudioSettings::finger},
        {"glare", tr("glare"), tr("Glare on a patch"), &sim::StudioSettings::glare},
        {"tipped", tr("tipped"), tr("The chart is turned to one lamp"), &sim::StudioSettings::tipped},
        {"soft", tr("out of focus"), tr("The lens is focused too near"), &sim::StudioSettings::outOfFocus},
        {"shaken", tr("shaken"), tr("The camera shakes"), &sim::StudioSettings::shaken},
        {"veiled", tr("veiled"), tr("A lamp shines into the lens"), &sim::StudioSettings::veiled},
        {"shadow", tr("shadow"), tr("Something blocks part of the lamp: a shadow's edge crosses the chart"),
         &sim::StudioSettings::shadow}};
    auto *grid = new QGridLayout;
    for (int i = 0; i < int(std::size(all)); ++i) {
        auto *box = new QCheckBox(all[i].words);
        box->setObjectName(all[i].name);
        box->setToolTip(all[i].why);
        grid->addWidget(box, i / 2, i % 2);
        m_mishaps.push_back({all[i].field, box});
    }
    form->addRow(grid);
}

sim::StudioSettings StudioPanel::settings() const
{
    sim::StudioSettings s;
    s.lamp = m_lamp->currentText().toStdString();
    s.modifier = m_modifier->currentText().toStdString();
    s.powerStops = m_power->value();
    s.drift = m_tired->isChecked() ? 1 : 0;
    s.camera = m_camera->currentData().toString().toStdString();
    s.lens = m_lens->currentIndex();
    s.iso = m_iso->currentData().toDouble();
    s.exposureSeconds = m_time->currentData().toDouble();
    s.fNumber = m_aperture->currentData().toDouble();
    s.subject = sim::Subject(m_subject->currentData().toInt());
    s.chart = m_chart->currentData().toString().toStdString();
    s.chartWidth = m_width->value() / 100.0;
    s.chartTurn = m_turn->value();
    s.firstYarn = m_yarn->value() - 1;
    for (const auto &mishap : m_mishaps)
        s.*mishap.field = mishap.box->isChecked();
    s.capturedAt = QDateTime::currentDateTime().toString("yyyy-MM-ddTHH:mm:ss").toStdString();
    s.seed = m_count + 1;
    return s;
}

void StudioPanel::setFolder(const QString &folder)
{
    m_folder = folder;
    adapt();
}

void StudioPanel::stop()
{
    m_tasks->stop(kQueue);
    adapt();
}

void StudioPanel::shoot()
{
    if (isShooting() || m_folder.isEmpty())
        return;
    emit aboutToShoot();
    if (!QDir().mkpath(m_folder)) {
        emit problem(tr("%1 cannot be made.").arg(m_folder));
        return;
    }
    const auto how = settings();
    m_lastLight = lightOf(how);
    ++m_count;
    const auto file = nextOnRoll(m_folder.toStdString(), how.camera);
    m_file = text(file.string());
    TaskSpec spec{kQueue, tr("exposing")};
    spec.outlivesJob = true;
    m_tasks->run<Done>(
        spec, [how, file](const Progress &progress) { return shootToFile(how, file, progress); }, this,
        [this](const Result<Done> &done) {
            if (done)
                emit shot(m_file);
            else
                emit problem(text(done.error()));
            adapt();
        });
    adapt();
}

void StudioPanel::adapt()
{
    if (!m_state)
        return; // still being made
    const bool chart = m_subject->currentData().toInt() == int(sim::Subject::Chart),
               yarn = m_subject->currentData().toInt() == int(sim::Subject::Skeins);
    for (QWidget *widget : std::initializer_list<QWidget *>{m_chart, m_width, m_turn})
        widget->setEnabled(chart);
    for (const auto &mishap : m_mishaps)
        if (mishap.field == &sim::StudioSettings::finger || mishap.field == &sim::StudioSettings::glare ||
            mishap.field == &sim::StudioSettings::tipped || mishap.field == &sim::StudioSettings::shadow)
            mishap.box->setEnabled(chart);
    m_yarn->setEnabled(yarn);
    m_shoot->setEnabled(!isShooting() && !m_folder.isEmpty());
    if (m_folder.isEmpty())
        m_state->setText(tr("Open or make a job first."));
    else if (isShooting())
        m_state->setText(tr("Exposing."));
    else if (!m_lastLight.empty() && m_lastLight != lightOf(settings()))
        m_state->setText(
            tr("The light differs from the last shot. If this is a new setup, press Ctrl+L first."));
    else
        m_state->setText(tr("Frames go to %1.").arg(QFileInfo(m_folder).fileName()));
}

} // namespace wavechroma::app
