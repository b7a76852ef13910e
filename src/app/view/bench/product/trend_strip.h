#pragma once
#include "app/model/product_editor.h"

#include <QWidget>

namespace wavechroma::app {

/// One thing over the day: its difference from the target on each frame that has it, or from the first of
/// them, with the tolerance as a line.
class TrendStrip : public QWidget
{
    Q_OBJECT
public:
    explicit TrendStrip(QWidget *parent = nullptr);
    void show(const ProductFacts &facts);
    [[nodiscard]] int count() const { return int(m_errors.size()); }
    [[nodiscard]] QString words() const { return m_words; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    struct Dot
    {
        double seconds = 0, error = 0;
        bool isHere = false;
    };
    std::vector<Dot> m_errors;
    double m_limit = 0;
    QString m_words, m_from, m_to;
};

} // namespace wavechroma::app
