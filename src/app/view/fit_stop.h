#pragma once
#include "app/view/stop.h"

namespace wavechroma::app {

/// Stop 3: the models side by side by unseen error, with what else speaks for or against them; one is
/// recommended, with the reason, and the job answers by it. A click, or up and down, chooses another for the
/// whole job; left and right flick to the recommended one and back.
class FitStop : public Stop
{
    Q_OBJECT
public:
    explicit FitStop(QWidget *parent = nullptr);
    QString title() const override { return tr("Fit"); }
    QString figure(const BenchFacts &facts) const override;
    QString sentence(const BenchFacts &facts) const override;
    int paintMiniature(QPainter &painter, const QRect &where, const BenchFacts &facts) const override;
    void show(const BenchFacts &facts) override;
    [[nodiscard]] QRect modelRect(int index) const;
    [[nodiscard]] QRect
    choiceRect(int index) const; ///< each chart's recommended model, one for the whole job
    [[nodiscard]] QRect characterRect(int index) const; ///< exact, calm reds, lively

signals:
    void modelAsked(const QString &model); ///< or kRecommended
    void characterAsked(wavechroma::Character character);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    void paintModel(QPainter &painter, int index) const;
    void paintBox(QPainter &painter, const QRect &area, const QString &words, bool current) const;
    void paintChoices(QPainter &painter) const;
    void paintCalibration(QPainter &painter, const QRect &where) const;
    BenchFacts m_facts;
    QString m_before = "matrix"; ///< the model that a flick left
};

} // namespace wavechroma::app
