#pragma once
#include "app/model/product_editor.h"
#include "app/view/widgets/painted_list.h"

#include <QHBoxLayout>
#include <QLabel>

namespace wavechroma::app {

class TrendStrip;

/// Beside a product frame: what serves it, its balance, its level, its probes with what is expected of them
/// and what was found, and whether all keep within their limits.
class ProductPanel : public QWidget
{
    Q_OBJECT
public:
    explicit ProductPanel(QWidget *parent = nullptr);
    void show(const std::shared_ptr<const ProductFacts> &facts, const Facts &bench);
    void pick(const QString &name);
    [[nodiscard]] PaintedList *list() const { return m_list; }
    [[nodiscard]] TrendStrip *trend() const { return m_trend; }
    [[nodiscard]] QString verdict() const { return m_verdict->text(); }
    [[nodiscard]] QString servedBy() const { return m_served->text(); }
    [[nodiscard]] QString level() const { return m_level->text(); }

signals:
    void probePicked(const QString &name);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void paintRow(QPainter &painter, const QRect &area, int row) const;
    void showVerdict();
    [[nodiscard]] QLabel *section(const QString &head);

    std::shared_ptr<const ProductFacts> m_facts = std::make_shared<const ProductFacts>();
    QString m_picked;
    QLabel *m_served, *m_balance, *m_level, *m_crop, *m_probesHead, *m_expected, *m_found, *m_verdict,
        *m_carry;
    PaintedList *m_list;
    TrendStrip *m_trend;
    QHBoxLayout *m_lastHead = nullptr; ///< of the section made last
};

} // namespace wavechroma::app
