#pragma once
#include "app/view/frame/frame_view.h"
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

/// The checks as words, trouble first on black tags.
class CheckList : public QWidget
{
    Q_OBJECT
public:
    explicit CheckList(QWidget *parent = nullptr);
    void show(const Facts &facts);
    void showLevels(const FrameLevels &levels, const QString &flatWords);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void paintFrame(QPainter &painter, QRect area) const;
    void paintChecks(QPainter &painter, QRect area) const;
    void paintMeasures(QPainter &painter, QRect area) const;
    Facts m_facts = std::make_shared<const BenchFacts>();
    FrameLevels m_levels;
    QString m_flatWords;
};

} // namespace wavechroma::app
