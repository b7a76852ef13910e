// The day sheet for those who hear it: the same pieces that are painted, as the toolkit's accessible
// children.
#include "app/view/day/day_sheet_aloud.h"

#include "app/model/spoken.h"
#include "app/view/widgets/look.h"
#include "core/words/answer_words.h"

#include <QAccessible>
#include <QAccessibleWidget>
#include <QPointer>
#include <algorithm>
#include <map>

namespace wavechroma::app {

namespace {

/// One piece of a sheet, told by its place in the order: the sheet may have changed since it was asked for.
class PieceAloud : public QAccessibleInterface, public QAccessibleActionInterface
{
public:
    PieceAloud(DayCanvas *sheet, int index) : m_sheet(sheet), m_index(size_t(index)) {}

    [[nodiscard]] bool isValid() const override { return m_sheet && m_index < m_sheet->pieces().size(); }
    [[nodiscard]] QObject *object() const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface *parent() const override
    {
        return QAccessible::queryAccessibleInterface(m_sheet);
    }
    [[nodiscard]] QAccessibleInterface *child(int) const override { return nullptr; }
    [[nodiscard]] QAccessibleInterface *childAt(int, int) const override { return nullptr; }
    [[nodiscard]] int childCount() const override { return 0; }
    [[nodiscard]] int indexOfChild(const QAccessibleInterface *) const override { return -1; }
    void setText(QAccessible::Text, const QString &) override {}

    [[nodiscard]] QString text(QAccessible::Text which) const override
    {
        return isValid() && which == QAccessible::Name ? piece().said : QString();
    }
    [[nodiscard]] QRect rect() const override
    {
        return isValid() ? piece().rect.translated(m_sheet->mapToGlobal(QPoint())) : QRect();
    }
    [[nodiscard]] QAccessible::Role role() const override
    {
        return isValid() && piece().kind == DayCanvas::Piece::Kind::Setup ? QAccessible::Heading
                                                                          : QAccessible::ListItem;
    }
    [[nodiscard]] QAccessible::State state() const override
    {
        QAccessible::State state;
        state.invalid = !isValid();
        if (state.invalid)
            return state;
        const auto &shown = piece();
        state.selectable = state.focusable = shown.kind == DayCanvas::Piece::Kind::Frames;
        state.selected = shown.chosen;
        state.focused = shown.chosen && m_sheet->hasFocus();
        state.offscreen = !m_sheet->visibleRegion().intersects(shown.rect);
        return state;
    }

    void *interface_cast(QAccessible::InterfaceType type) override
    {
        return type == QAccessible::ActionInterface ? static_cast<QAccessibleActionInterface *>(this)
                                                    : nullptr;
    }
    [[nodiscard]] QStringList actionNames() const override
    {
        return isValid() && piece().frame ? QStringList{pressAction(), setFocusAction()} : QStringList();
    }
    void doAction(const QString &action) override
    {
        if (!isValid() || !piece().frame)
            return;
        const auto frame = piece().frame;
        if (action == setFocusAction())
            m_sheet->select(frame);
        else if (action == pressAction())
            emit m_sheet->openAsked(frame);
    }
    [[nodiscard]] QStringList keyBindingsForAction(const QString &) const override { return {}; }

private:
    [[nodiscard]] const DayCanvas::Piece &piece() const { return m_sheet->pieces()[m_index]; }

    QPointer<DayCanvas> m_sheet;
    size_t m_index;
};

class SheetAloud : public QAccessibleWidget
{
public:
    explicit SheetAloud(DayCanvas *sheet) : QAccessibleWidget(sheet, QAccessible::List), m_sheet(sheet) {}
    ~SheetAloud() override
    {
        for (const auto &[index, id] : m_ids)
            QAccessible::deleteAccessibleInterface(id);
    }
    [[nodiscard]] int childCount() const override { return int(m_sheet->pieces().size()); }
    [[nodiscard]] QAccessibleInterface *child(int index) const override
    {
        if (index < 0 || index >= childCount())
            return nullptr;
        const auto known = m_ids.find(index);
        if (known != m_ids.end())
            return QAccessible::accessibleInterface(known->second);
        auto *made = new PieceAloud(m_sheet, index);
        m_ids[index] = QAccessible::registerAccessibleInterface(made);
        return made;
    }
    [[nodiscard]] int indexOfChild(const QAccessibleInterface *child) const override
    {
        for (const auto &[index, id] : m_ids)
            if (QAccessible::accessibleInterface(id) == child)
                return index;
        return -1;
    }
    [[nodiscard]] QAccessibleInterface *childAt(int x, int y) const override
    {
        const auto at = m_sheet->mapFromGlobal(QPoint(x, y));
        for (int i = 0; i < childCount(); ++i)
            if (m_sheet->pieces()[size_t(i)].rect.contains(at))
                return child(i);
        return nullptr;
    }
    [[nodiscard]] QAccessibleInterface *focusChild() const override
    {
        for (int i = 0; m_sheet->hasFocus() && i < childCount(); ++i)
            if (m_sheet->pieces()[size_t(i)].chosen)
                return child(i);
        return nullptr;
    }

private:
    DayCanvas *m_sheet;
    mutable std::map<int, QAccessible::Id> m_ids; ///< of the children that were asked for
};

QAccessibleInterface *aloud(const QString &, QObject *object)
{
    auto *sheet = qobject_cast<DayCanvas *>(object);
    return sheet ? new SheetAloud(sheet) : nullptr;
}

} // namespace

void readDaySheetsAloud()
{
    QAccessible::installFactory(aloud); // the same one again is passed over
}

const std::vector<DayCanvas::Piece> &DayCanvas::pieces() const
{
    if (!m_pieces.empty())
        return m_pieces;
    using Kind = Piece::Kind;
    const auto &lanes = placedLanes();
    for (size_t i = 0; i < lanes.size(); ++i) {
        const auto &lane = *m_lanes[i];
        if (!lanes[i].setup.isNull())
            m_pieces.push_back({Kind::Setup, lanes[i].setup, setupSentence(lane), 0, false});
        for (const auto &placed : lanes[i].frames)
            m_pieces.push_back({Kind::Frames, placed.rect,
                                placed.folded.empty() ? frameWords(placed.id).join(", ")
                                                      : foldWords(placed.folded).join(", "),
                                placed.id, placed.id == m_selected});
        if (!lane.frames.empty())
            m_pieces.push_back(
                {Kind::Answer, lanes[i].answer, answerSentence(lane), lane.answer.frame, false});
    }
    return m_pieces;
}

QString DayCanvas::setupSentence(const Station &lane) const
{
    const auto &setups = m_job->state().setups;
    const auto setup =
        std::find_if(setups.begin(), setups.end(), [&](const auto &s) { return s.id == lane.setup; });
    if (setup == setups.end())
        return {};
    const bool isEmpty = lane.frames.empty();
    return tr("%1, lighting setup%2").arg(text(setup->title), isEmpty ? tr(": no chart yet") : QString());
}

QString DayCanvas::answerSentence(const Station &lane) const
{
    return QString("%1 %2: %3 %4")
        .arg(text(lane.camera.model), text(lane.camera.lens), text(words::headline(lane.answer, spoken())),
             text(words::reason(lane.answer, spoken())));
}

QStringList DayCanvas::frameWords(RowId id) const
{
    const auto &frame = *m_job->state().frame(id);
    QStringList said{text(frame.path).section('/', -1), QString(wavechroma::nameOf(frame.part))};
    if (frame.part == FramePart::Chart) {
        const auto answer = m_job->stations().answerOf(m_job->state(), id);
        said << text(words::headline(answer, spoken())) + ", " + text(words::reason(answer, spoken()));
    }
    if (const auto note = m_notes.constFind(id); note != m_notes.constEnd())
        said << note->words();
    return said;
}

QStringList DayCanvas::foldWords(const std::vector<RowId> &run) const
{
    const auto doubted = std::count_if(run.begin(), run.end(), [&](RowId id) {
        const auto note = m_notes.constFind(id);
        return note != m_notes.constEnd() && !note->warning.isEmpty();
    });
    return {text(words::filled("{n} {n|frame|frames}", {{"n", double(run.size())}}, spoken())) +
                (doubted ? tr(", %1 in doubt").arg(doubted) : QString()),
            spanWords(run)};
}

} // namespace wavechroma::app
