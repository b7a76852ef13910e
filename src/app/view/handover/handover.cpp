#include "app/view/handover/handover.h"

#include "app/model/spoken.h"
#include "app/view/handover/form_dialog.h"
#include "app/view/widgets/look.h"
#include "core/words/answer_words.h"
#include "core/words/setting_words.h"

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPainter>
#include <QProgressBar>
#include <QPushButton>
#include <QTableView>
#include <QTreeWidget>
#include <QTreeWidgetItemIterator>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <set>
#include <tuple>

namespace wavechroma::app {

namespace {

constexpr int kLeft = 296, kMiddle = 328;
constexpr int kCameraRole = Qt::UserRole + 1; ///< of a pair: the name of its camera

QLabel *head(const QString &words)
{
    auto *label = new QLabel(words);
    label->setFont(face(kAnswer, 600));
    return label;
}

QLabel *lines()
{
    auto *label = new QLabel;
    label->setFont(face(kBody));
    label->setWordWrap(true);
    return label;
}

QString sizeWords(uint64_t bytes)
{
    return QLocale().formattedDataSize(qint64(bytes), 0, QLocale::DataSizeSIFormat);
}

} // namespace

Handover::Handover(JobDocument *job, TaskRunner *tasks, QWidget *parent)
    : QWidget(parent), m_job(job), m_editor(new DeliveryEditor(job, tasks, this)),
      m_model(new PlanModel(this)), m_frames(new QTreeWidget), m_deliveries(new QComboBox),
      m_names(new QLineEdit), m_example(lines()), m_summary(lines()), m_leftOut(lines()), m_folder(lines()),
      m_step(lines()), m_table(new QTableView), m_bar(new QProgressBar),
      m_replace(new QPushButton(tr("Replace…"))), m_write(new QPushButton(tr("Write"))),
      m_pause(new QPushButton(tr("Pause"))), m_stop(new QPushButton(tr("Stop"))),
      m_itself(new QCheckBox(tr("Write what is stale by itself")))
{
    auto *line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(0);
    const auto column = [&](int width) {
        auto *box = new QWidget;
        auto *inside = new QVBoxLayout(box);
        inside->setContentsMargins(20, 14, 16, 14);
        if (width > 0)
            box->setFixedWidth(width);
        line->addWidget(box, width > 0 ? 0 : 1);
        return inside;
    };
    auto *left = column(kLeft);
    left->addWidget(head(tr("Frames")));
    m_frames->setHeaderHidden(true);
    m_frames->setFrameShape(QFrame::NoFrame);
    m_frames->setAccessibleName(tr("Frames to deliver"));
    m_frames->viewport()->setAutoFillBackground(false);
    left->addWidget(m_frames, 1);
    auto *middle = column(kMiddle);
    middle->addWidget(head(tr("Forms of this delivery")));
    m_deliveries->setAccessibleName(tr("Delivery"));
    middle->addWidget(m_deliveries);
    m_forms = new PaintedList(
        tr("Forms"), [this](QPainter &p, const QRect &area, int row) { paintForm(p, area, row); }, this);
    m_forms->setCell({kMiddle - 40, 64});
    m_forms->setStepping(true);
    middle->addWidget(m_forms, 1);
    auto *buttons = new QHBoxLayout;
    const std::tuple<QString, void (Handover::*)()> offers[] = {{tr("Add…"), &Handover::addForm},
                                                                {tr("Change…"), &Handover::changeForm},
                                                                {tr("Remove"), &Handover::removeForm}};
    for (const auto &[said, does] : offers) {
        auto *button = new QPushButton(said);
        connect(button, &QPushButton::clicked, this, does);
        buttons->addWidget(button);
    }
    middle->addLayout(buttons);
    middle->addSpacing(12);
    middle->addWidget(new QLabel(tr("Names of the files:")));
    m_names->setAccessibleName(tr("Names of the files"));
    middle->addWidget(m_names);
    middle->addWidget(m_example);
    auto *right = column(0);
    auto *top = new QHBoxLayout;
    top->addWidget(head(tr("What will be written")), 1);
    m_summary->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    m_summary->setWordWrap(false);
    top->addWidget(m_summary);
    right->addLayout(top);
    m_table->setModel(m_model);
    m_table->setWordWrap(false);
    m_table->setTextElideMode(Qt::ElideMiddle);
    m_table->setFrameShape(QFrame::NoFrame);
    m_table->setShowGrid(false);
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setDefaultSectionSize(28);
    m_table->horizontalHeader()->setHighlightSections(false);
    m_table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setColumnWidth(0, 190);
    m_table->setColumnWidth(1, 78);
    m_table->horizontalHeader()->setStretchLastSection(true);
    m_table->setAccessibleName(tr("What will be written"));
    right->addWidget(m_table, 1);
    right->addWidget(m_leftOut);
    auto *where = new QHBoxLayout;
    where->addWidget(m_folder, 1);
    where->addWidget(m_replace);
    right->addLayout(where);
    m_replace->hide();
    m_itself->setToolTip(
        tr("A moment after a calibration, a crop or a form has changed, the delivery is written anew "
           "where a file that it wrote before is stale."));
    right->addWidget(m_itself);
    m_bar->setTextVisible(false);
    m_bar->setRange(0, 1000);
    right->addWidget(m_bar);
    auto *bottom = new QHBoxLayout;
    bottom->addWidget(m_step, 1);
    for (auto *button : {m_write, m_pause, m_stop})
        bottom->addWidget(button);
    right->addLayout(bottom);
    m_replace->setObjectName("replace");
    setFocusProxy(m_forms);
    onBoard();

    connect(job, &JobDocument::changed, this, [this](const JobChange &change) {
        if (!keepsServings(change))
            m_shownFrames.clear(); // doubts, names and places may be others
    });
    connect(m_editor, &DeliveryEditor::changed, this, &Handover::showAsked);
    connect(m_editor, &DeliveryEditor::progressed, this, [this](double fraction, const QString &step) {
        m_bar->setValue(int(1000 * fraction));
        m_step->setText(step);
    });
    connect(m_editor, &DeliveryEditor::finished, this, [this](const QString &message, bool isWell) {
        m_bar->setValue(isWell ? m_bar->value() : 0);
        m_step->setText(message);
        showAsked();
    });
    connect(m_deliveries, &QComboBox::activated, m_editor, &DeliveryEditor::open);
    connect(m_names, &QLineEdit::editingFinished, this, [this] { m_editor->setNames(m_names->text()); });
    connect(m_forms, &PaintedList::picked, this, [this](int row) {
        m_form = row;
        showAsked();
    });
    connect(m_forms, &QListView::doubleClicked, this, &Handover::changeForm);
    connect(m_frames, &QTreeWidget::itemChanged, this, &Handover::changeItem);
    connect(m_write, &QPushButton::clicked, m_editor, [this] { m_editor->write(); });
    connect(m_itself, &QCheckBox::clicked, m_editor, &DeliveryEditor::setWritesItself);
    connect(m_replace, &QPushButton::clicked, this, &Handover::replace);
    connect(m_pause, &QPushButton::clicked, this, [this] { m_editor->pause(!m_editor->isPaused()); });
    connect(m_stop, &QPushButton::clicked, m_editor, &DeliveryEditor::stop);
    showAsked();
}

/// Lists lie on the board itself; white is for answers.
void Handover::onBoard()
{
    for (QWidget *list : {static_cast<QWidget *>(m_table), static_cast<QWidget *>(m_frames)}) {
        auto colours = QApplication::palette();
        colours.setColor(QPalette::Base, colours.color(QPalette::Window));
        colours.setColor(QPalette::Text, colours.color(QPalette::WindowText));
        list->setPalette(colours);
    }
}

void Handover::changeEvent(QEvent *event)
{
    if (event->type() == QEvent::ApplicationPaletteChange)
        onBoard();
    QWidget::changeEvent(event);
}

void Handover::showEvent(QShowEvent *event)
{
    m_editor->setWatched(true);
    QWidget::showEvent(event);
}

void Handover::hideEvent(QHideEvent *event)
{
    m_editor->setWatched(false);
    QWidget::hideEvent(event);
}

void Handover::showAsked()
{
    if (!m_job->isOpen())
        return;
    const auto &asked = m_editor->asked();
    m_deliveries->clear();
    m_deliveries->addItems(m_editor->titles());
    m_deliveries->setCurrentIndex(m_editor->current());
    m_form = std::clamp(m_form, 0, std::max(0, int(asked.forms.size()) - 1));
    QStringList said;
    for (const auto &form : asked.forms)
        said << text(form.name) + ", " + text(words::summary(form, spoken()));
    m_forms->show(said, m_form);
    if (!m_names->hasFocus())
        m_names->setText(text(asked.names));
    m_names->setPlaceholderText(asked.forms.size() > 1 ? "{form}/{frame}" : "{frame}");
    const auto &items = m_editor->plan().items;
    const auto example = items.empty() ? QString() : text(items.front().planned.path);
    const auto shown = m_example->fontMetrics().elidedText(example, Qt::ElideMiddle, kMiddle - 40);
    m_example->setToolTip(example);
    m_example->setText(!m_editor->planFault().isEmpty() ? m_editor->planFault()
                       : items.empty()                  ? QString()
                                                        : tr("For example %1").arg(shown) + clashWords());
    showFrames();
    showPlan();
}

void Handover::showFrames()
{
    std::vector<std::pair<RowId, bool>> now;
    for (const auto id : m_editor->products())
        now.emplace_back(id, m_editor->leaves(id));
    if (now == m_shownFrames && m_frames->topLevelItemCount() > 0)
        return;
    const bool areSame = std::ranges::equal(now, m_shownFrames, {}, &std::pair<RowId, bool>::first,
                                            &std::pair<RowId, bool>::first);
    const auto before = std::exchange(m_shownFrames, now);
    if (areSame && m_frames->topLevelItemCount() > 0) { // thousands of rows stay as they are
        std::vector<RowId> others;
        for (size_t i = 0; i < now.size(); ++i)
            if (now[i] != before[i])
                others.push_back(now[i].first);
        return showTicks(others);
    }
    m_isFilling = true;
    makeFrames();
    m_isFilling = false;
}

void Handover::showTicks(const std::vector<RowId> &frames)
{
    m_isFilling = true;
    std::set<QTreeWidgetItem *> pairs;
    for (const auto id : frames)
        if (auto *item = m_items.value(id)) {
            item->setCheckState(0, m_editor->leaves(id) ? Qt::Checked : Qt::Unchecked);
            pairs.insert(item->parent());
        }
    for (auto *pair : pairs)
        showPair(pair);
    m_isFilling = false;
}

/// By setup, then by camera and lens; a frame's box within.
void Handover::makeFrames()
{
    m_frames->clear();
    m_items.clear();
    const auto &state = m_job->state();
    const auto &stations = m_job->stations();
    std::map<const Station *, std::vector<std::pair<RowId, bool>>> products;
    for (const auto &[id, leaves] : m_shownFrames)
        products[stations.of(id)].emplace_back(id, leaves);
    for (const auto &setup : state.setups) {
        QTreeWidgetItem *top = nullptr;
        for (const auto *station : stations.all()) {
            if (station->setup != setup.id || !products.contains(station))
                continue;
            if (!top) {
                top = new QTreeWidgetItem({text(setup.title)});
                top->setFont(0, face(kBody, 600));
                top->setFlags(Qt::ItemIsEnabled);
            }
            auto *pair = new QTreeWidgetItem(top);
            pair->setData(0, kCameraRole,
                          station->camera.model.empty() ? tr("unknown camera") : text(station->camera.model));
            for (const auto &[id, leaves] : products[station]) {
                const auto name = text(state.frame(id)->path).section('/', -1);
                const bool isChart = state.frame(id)->part == FramePart::Chart;
                auto *item = new QTreeWidgetItem(pair, {isChart ? tr("%1, chart").arg(name) : name});
                item->setData(0, Qt::UserRole, qint64(id));
                item->setCheckState(0, leaves ? Qt::Checked : Qt::Unchecked);
                item->setSizeHint(0, {0, 26});
                m_items[id] = item;
            }
            showPair(pair);
            pair->setSizeHint(0, {0, 26});
        }
        if (!top)
            continue;
        top->setSizeHint(0, {0, 26});
        m_frames->addTopLevelItem(top);
        top->setExpanded(true);
    }
}

void Handover::showPair(QTreeWidgetItem *pair) const
{
    int leaving = 0, doubted = 0;
    for (int i = 0; i < pair->childCount(); ++i) {
        const auto id = pair->child(i)->data(0, Qt::UserRole).toLongLong();
        leaving += m_editor->leaves(id);
        const auto &serving = m_job->job().serving(id);
        doubted += !serving.isServed() || !serving.doubts.empty();
    }
    pair->setText(
        0,
        tr("%1   %2 of %3").arg(pair->data(0, kCameraRole).toString()).arg(leaving).arg(pair->childCount()) +
            (doubted ? tr(", %1 in doubt").arg(doubted) : QString()));
    pair->setCheckState(0, leaving == 0                    ? Qt::Unchecked
                           : leaving == pair->childCount() ? Qt::Checked
                                                           : Qt::PartiallyChecked);
}

std::vector<RowId> Handover::framesOf(const QTreeWidgetItem *item) const
{
    if (const auto id = item->data(0, Qt::UserRole).toLongLong())
        return {id};
    std::vector<RowId> out;
    for (int i = 0; i < item->childCount(); ++i)
        for (const auto id : framesOf(item->child(i)))
            out.push_back(id);
    return out;
}

void Handover::changeItem(QTreeWidgetItem *item)
{
    if (m_isFilling)
        return;
    const auto frames = framesOf(item);
    const bool leave = item->checkState(0) == Qt::Checked;
    QMetaObject::invokeMethod(
        this,
        [this, frames, leave] {
            m_editor->setLeaving(frames, leave);
            showTicks(frames); // which a job that may only be read keeps as they were
        },
        Qt::QueuedConnection);
}

/// Of names that the pattern gives to several files.
QString Handover::clashWords() const
{
    const auto sharing = m_editor->plan().sharingNames();
    if (sharing.empty())
        return {};
    const bool hasFrame = m_editor->asked().names.find("{frame}") != std::string::npos;
    return ". " + text(words::filled(
                      "{n} files share their names and are numbered; {place} would tell them apart.",
                      {{"n", double(sharing.size())}, {"place", hasFrame ? "{form}" : "{frame}"}}, spoken()));
}

QString Handover::summary() const
{
    const auto &plan = m_editor->plan();
    const auto done =
        std::count_if(plan.items.begin(), plan.items.end(), [](const auto &i) { return i.isDone; });
    QString out = text(words::filled("{n} {n|file|files}", {{"n", double(plan.items.size())}}, spoken()));
    if (plan.roughBytes() > 0)
        out += tr(", about %1").arg(sizeWords(plan.roughBytes()));
    if (done)
        out += tr(", %1 there").arg(done);
    const auto stale =
        std::count_if(plan.items.begin(), plan.items.end(), [](const auto &i) { return i.isStale(); }) +
        ptrdiff_t(plan.outlived.size());
    return stale ? out + tr(", %1 stale").arg(stale) : out;
}

QString Handover::leftOutWords() const
{
    QStringList out;
    for (const auto &one : m_editor->plan().asked.leftOut)
        out << tr("Not written%1: %2. %3")
                   .arg(one.form.empty() ? QString() : tr(" (%1)").arg(text(one.form)),
                        text(one.path).section('/', -1), text(words::leftOut(one.why, spoken())));
    const auto more = out.size() - 4;
    out = out.mid(0, 4);
    if (more > 0)
        out << tr("… and %1 more.").arg(more);
    return out.join('\n');
}

void Handover::showPlan()
{
    m_model->show(m_editor->sharedPlan());
    m_summary->setText(summary());
    m_leftOut->setText(leftOutWords());
    m_leftOut->setVisible(!m_leftOut->text().isEmpty());
    const auto job = text(m_job->store()->folder().string()) + '/';
    const auto folder = QDir(m_editor->folder()).path();
    m_folder->setText(folder.startsWith(job) ? tr("To %1 in the job's folder").arg(folder.mid(job.size()))
                                             : tr("To %1").arg(folder));
    const bool isWriting = m_editor->isWriting();
    m_itself->setChecked(m_editor->writesItself());
    m_write->setEnabled(!isWriting && !m_editor->plan().items.empty());
    const auto kept = m_editor->inTheWay();
    m_replace->setVisible(!kept.empty());
    m_replace->setEnabled(!isWriting);
    m_pause->setEnabled(isWriting);
    m_pause->setText(m_editor->isPaused() ? tr("Go On") : tr("Pause"));
    m_stop->setEnabled(isWriting);
}

void Handover::paintForm(QPainter &painter, const QRect &area, int row) const
{
    const auto &forms = m_editor->asked().forms;
    if (row >= int(forms.size()))
        return;
    const auto &form = forms[size_t(row)];
    const QRect box = area.adjusted(0, 3, -1, -4);
    const bool isPicked = row == m_form;
    if (isPicked)
        painter.fillRect(box, palette().base());
    painter.setPen(palette().color(isPicked ? QPalette::Text : QPalette::WindowText));
    painter.drawRect(box);
    drawLine(painter, box.adjusted(12, 5, -8, -28), text(form.name), face(15, 600));
    drawLine(painter, box.adjusted(12, 27, -8, -4), text(words::summary(form, spoken())), face(kBody));
}

void Handover::editForm(int row)
{
    auto forms = m_editor->asked().forms;
    QStringList taken;
    for (int i = 0; i < int(forms.size()); ++i)
        if (i != row)
            taken << text(forms[size_t(i)].name);
    DeliveryForm start;
    if (row >= 0)
        start = forms[size_t(row)];
    else
        start.picture.format = PictureFormat::Jpeg;
    auto *dialog = new FormDialog(start, taken, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this, [this, dialog, row] {
        auto changed = m_editor->asked().forms;
        if (row < 0)
            changed.push_back(dialog->form());
        else if (row < int(changed.size()))
            changed[size_t(row)] = dialog->form();
        m_form = row < 0 ? int(changed.size()) - 1 : row;
        m_editor->setForms(changed, row < 0 ? tr("Add a Form") : tr("Change a Form"));
    });
    dialog->open();
}

void Handover::addForm()
{
    editForm(-1);
}

void Handover::changeForm()
{
    if (m_form < int(m_editor->asked().forms.size()))
        editForm(m_form);
}

void Handover::removeForm()
{
    auto forms = m_editor->asked().forms;
    if (forms.size() < 2) {
        emit problem(tr("A delivery has at least one form."));
        return;
    }
    forms.erase(forms.begin() + m_form);
    m_editor->setForms(forms, tr("Remove a Form"));
}

void Handover::addDelivery()
{
    auto *dialog = new QInputDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("New Delivery"));
    dialog->setLabelText(tr("Name of the delivery and of its folder:"));
    connect(dialog, &QInputDialog::textValueSelected, m_editor, &DeliveryEditor::add);
    dialog->open();
}

void Handover::chooseFolder()
{
    const auto folder =
        QFileDialog::getExistingDirectory(this, tr("Folder of This Delivery"), m_editor->folder());
    if (!folder.isEmpty())
        m_editor->setFolder(folder);
}

void Handover::replace()
{
    const auto kept = m_editor->inTheWay();
    const size_t mostNamed = 8;
    QStringList names;
    for (size_t i = 0; i < std::min(kept.size(), mostNamed); ++i)
        names << text(kept[i]);
    if (kept.size() > mostNamed)
        names << tr("… and %1 more.").arg(kept.size() - mostNamed);
    const auto asks =
        words::filled("{n} {n|file is|files are} not as Wavechroma wrote {n|it|them}: retouched, or from "
                      "somewhere else. Replacing {n|it|them} cannot be undone.",
                      {{"n", double(kept.size())}}, spoken());
    auto *box =
        new QMessageBox(QMessageBox::NoIcon, tr("Replace Files"), text(asks), QMessageBox::NoButton, this);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setInformativeText(names.join('\n'));
    auto *keep = box->addButton(tr("Keep Them"), QMessageBox::RejectRole);
    auto *go = box->addButton(tr("Replace"), QMessageBox::AcceptRole);
    box->setDefaultButton(keep);
    connect(go, &QPushButton::clicked, this, [this, kept] { m_editor->write(kept); });
    box->open();
}

void Handover::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setPen(palette().color(QPalette::WindowText));
    for (const int x : {kLeft, kLeft + kMiddle})
        painter.drawLine(x, 0, x, height());
}

} // namespace wavechroma::app
