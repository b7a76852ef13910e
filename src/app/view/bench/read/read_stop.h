#pragma once
#include "app/view/frame/frame_view.h"
#include "app/view/widgets/painted_list.h"
#include "app/view/widgets/stop.h"

namespace wavechroma::app {

class CheckList;

/// Stop 1: the frame large, windows and corners on it, and beside it what the checks found.
class ReadStop : public Stop
{
    Q_OBJECT
public:
    explicit ReadStop(QWidget *parent = nullptr);
    QString title() const override { return tr("Read"); }
    QString figure(const BenchFacts &facts) const override;
    QString sentence(const BenchFacts &facts) const override;
    int paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const override;
    void show(const Facts &facts) override;
    void setFrame(const std::shared_ptr<const OpenFrame> &frame);
    [[nodiscard]] FrameView *view() const { return m_view; }

private:
    FrameView *m_view;
    CheckList *m_checks;
};

/// The frame's facts, the checks as a list of sentences, trouble first on tags, and what was measured.
class CheckList : public QWidget
{
    Q_OBJECT
public:
    explicit CheckList(QWidget *parent = nullptr);
    void show(const Facts &facts);
    void showLevels(const FrameLevels &levels, const QString &flatWords);

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    /// A check that found something, or all that found nothing.
    struct Row
    {
        Severity severity;
        QString words;
    };
    void listChecks();
    [[nodiscard]] QRect listArea() const;
    [[nodiscard]] QFont fontOf(const Row &row) const;
    [[nodiscard]] int heightOf(int width, int row) const;
    void paintFrame(QPainter &painter, QRect area) const;
    void paintCheck(QPainter &painter, const QRect &area, int row) const;
    void paintMeasures(QPainter &painter, QRect area) const;
    Facts m_facts = std::make_shared<const BenchFacts>();
    FrameLevels m_levels;
    QString m_flatWords;
    std::vector<Row> m_rows;
    PaintedList *m_list;
};

} // namespace wavechroma::app
