#include "app/view/day/setup_dialog.h"

#include "app/model/spoken.h"
#include "app/model/thumbnails.h"
#include "core/tasks/job_task.h"
#include "core/words/answer_words.h"

#include <QApplication>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDir>
#include <QFileDialog>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPointer>
#include <QPushButton>
#include <QThreadPool>

namespace wavechroma::app {

SetupDialog::SetupDialog(const JobSetup &setup, const QString &jobTitle, const QString &folder,
                         ExposureTime shown, QWidget *parent)
    : QDialog(parent), m_setup(setup), m_folder(folder), m_job(new QLineEdit(jobTitle)),
      m_title(new QLineEdit(text(setup.title))), m_lamps(new QLineEdit(text(setup.lamps))),
      m_modifiers(new QLineEdit(text(setup.modifiers))), m_power(new QLineEdit(text(setup.power))),
      m_backdrop(new QLineEdit(text(setup.backdrop))), m_kind(new QComboBox), m_picture(new QLabel),
      m_notes(new QPlainTextEdit(text(setup.notes)))
{
    setWindowTitle(tr("Name the Setup"));
    setMinimumWidth(560);
    m_title->setObjectName("title");
    m_lamps->setObjectName("lamps");
    m_modifiers->setObjectName("modifiers");
    m_power->setObjectName("power");
    m_backdrop->setObjectName("backdrop");
    m_lamps->setPlaceholderText(tr("two strobes"));
    m_modifiers->setPlaceholderText(tr("softbox left, umbrella right"));
    m_power->setPlaceholderText(tr("1/2 and 1/4"));
    m_backdrop->setPlaceholderText(tr("linen sweep"));
    m_notes->setTabChangesFocus(true);
    m_notes->setMaximumHeight(80);
    auto *form = new QFormLayout(this);
    form->addRow(tr("Setup"), m_title);
    m_kind->setObjectName("kind");
    for (const auto kind : lampKinds())
        m_kind->addItem(text(words::lampKind(kind, spoken())), int(kind));
    m_kind->setCurrentIndex(m_kind->findData(int(setup.lampKind)));
    auto *evidence = new QLabel(
        shown == ExposureTime::DoesNotCount
            ? tr("The charts show a flash: exposure time does not change their brightness.")
        : shown == ExposureTime::Counts
            ? tr("The charts show continuous light: their brightness follows exposure time.")
            : tr("Under a flash, exposure time does not change the brightness. In other light it does."));
    evidence->setWordWrap(true);
    form->addRow(tr("Kind of lamp"), m_kind);
    form->addRow(QString(), evidence);
    form->addRow(tr("Lamps"), m_lamps);
    form->addRow(tr("Modifiers"), m_modifiers);
    form->addRow(tr("Power"), m_power);
    form->addRow(tr("Backdrop"), m_backdrop);
    form->addRow(tr("Notes"), m_notes);
    auto *choose = new QPushButton(tr("Picture of the Set…"));
    choose->setToolTip(
        tr("A snapshot that shows where the lamps stood. The file stays where it is on disk."));
    form->addRow(choose, m_picture);
    form->addRow(tr("Job"), m_job);
    form->setRowVisible(m_job, !jobTitle.isEmpty()); // a new setup is not the place to rename the job
    auto *buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
    form->addRow(buttons);
    connect(choose, &QPushButton::clicked, this, &SetupDialog::choosePicture);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    showPicture();
    m_title->selectAll();
}

void SetupDialog::choosePicture()
{
    const auto file = QFileDialog::getOpenFileName(this, tr("Picture of the Set"), m_folder,
                                                   tr("Pictures (*.jpg *.jpeg *.png *.tif *.tiff)"));
    if (file.isEmpty())
        return;
    m_setup.picture = keptPath(m_folder.toStdString(), file.toStdString());
    showPicture();
}

void SetupDialog::showPicture()
{
    if (m_setup.picture.empty()) {
        m_picture->setText(tr("none"));
        return;
    }
    // by the frames' own readers: a job, and what it names, may come from anywhere
    const auto file = QDir(m_folder).filePath(text(m_setup.picture)).toStdString();
    QThreadPool::globalInstance()->start([label = QPointer(m_picture), file, name = text(m_setup.picture)] {
        constexpr int kWidth = 240, kHeight = 120;
        const auto image = uprightPicture(file, 2 * kWidth);
        QMetaObject::invokeMethod(qApp, [label, image, name] {
            if (label && image.isNull())
                label->setText(SetupDialog::tr("%1 cannot be shown").arg(name));
            else if (label)
                label->setPixmap(QPixmap::fromImage(
                    image.scaled(kWidth, kHeight, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
        });
    });
}

JobSetup SetupDialog::setup() const
{
    JobSetup out = m_setup;
    out.title = m_title->text().trimmed().toStdString();
    out.lampKind = LampKind(m_kind->currentData().toInt());
    out.lamps = m_lamps->text().trimmed().toStdString();
    out.modifiers = m_modifiers->text().trimmed().toStdString();
    out.power = m_power->text().trimmed().toStdString();
    out.backdrop = m_backdrop->text().trimmed().toStdString();
    out.notes = m_notes->toPlainText().trimmed().toStdString();
    return out;
}

QString SetupDialog::jobTitle() const
{
    return m_job->text().trimmed();
}

} // namespace wavechroma::app
