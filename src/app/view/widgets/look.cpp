#include "app/view/widgets/look.h"

#include <QApplication>
#include <QFontDatabase>
#include <QProxyStyle>
#include <QStyleFactory>
#include <utility>

namespace wavechroma::app {

static QColor grey(int level)
{
    return {level, level, level};
}

QPalette paletteOf(Surround surround)
{
    const bool dark = surround == Surround::Dark;
    const QColor board = grey(surround == Surround::Board ? 0x86
                              : dark                      ? 0x26
                                                          : 0xEC),
                 ink = grey(dark ? 0xEE : 0x00);
    const QColor line = grey(surround == Surround::Board ? 0x4A
                             : dark                      ? 0x6A
                                                         : 0x90),
                 bar = grey(surround == Surround::Board ? 0xA6
                            : dark                      ? 0x48
                                                        : 0xCE);
    QPalette p;
    for (const auto group : {QPalette::Active, QPalette::Inactive, QPalette::Disabled}) {
        const bool off = group == QPalette::Disabled;
        p.setColor(group, QPalette::Window, board);
        p.setColor(group, QPalette::WindowText, off ? line : ink);
        p.setColor(group, QPalette::Base, grey(0xF4));
        p.setColor(group, QPalette::AlternateBase, grey(0xE6));
        p.setColor(group, QPalette::Text, off ? grey(0x70) : grey(0x08));
        p.setColor(group, QPalette::PlaceholderText, grey(0x60));
        p.setColor(group, QPalette::Button, bar);
        p.setColor(group, QPalette::ButtonText, off ? line : ink);
        p.setColor(group, QPalette::Highlight, grey(dark ? 0x00 : 0x0C));
        p.setColor(group, QPalette::HighlightedText, grey(0xF6));
        p.setColor(group, QPalette::Mid, line);
        p.setColor(group, QPalette::Dark, line);
        p.setColor(group, QPalette::Light, bar);
        p.setColor(group, QPalette::Midlight, bar);
        p.setColor(group, QPalette::Shadow, ink);
        p.setColor(group, QPalette::ToolTipBase, grey(0xF4));
        p.setColor(group, QPalette::ToolTipText, grey(0x08));
        p.setColor(group, QPalette::Link, ink);
    }
    return p;
}

namespace {

class PlainStyle final : public QProxyStyle
{
public:
    PlainStyle() : QProxyStyle(QStyleFactory::create("Fusion")) {}
    int styleHint(StyleHint hint, const QStyleOption *option, const QWidget *widget,
                  QStyleHintReturn *data) const override
    {
        return hint == SH_DialogButtonBox_ButtonsHaveIcons
                   ? 0
                   : QProxyStyle::styleHint(hint, option, widget, data);
    }
};

} // namespace

void useStyle()
{
    QApplication::setStyle(new PlainStyle);
}

void useSurround(Surround surround)
{
    const auto p = paletteOf(surround);
    QApplication::setPalette(p);
    // Written out rather than as palette(...): those are not looked up again when the palette changes.
    QString rules =
        "QPushButton { background: @bar; color: @ink; border: 1px solid @line; padding: 6px 16px; }"
        "QPushButton:hover, QPushButton:focus { border: 1px solid @ink; }"
        "QPushButton:default { font-weight: 600; }"
        "QPushButton:pressed { background: @board; }"
        "QPushButton:disabled { color: @line; }"
        "QToolButton#place { border: none; padding: 6px 12px; color: @ink; background: transparent; }"
        "QToolButton#place:checked { background: @black; color: @onBlack; }"
        "QToolButton#place:hover:!checked { background: @bar; }"
        "QToolButton#place:disabled { color: @line; }"
        "QProgressBar { border: none; background: @bar; } QProgressBar::chunk { background: @ink; }"
        "QScrollBar:vertical { background: transparent; width: 10px; } QScrollBar::handle:vertical { "
        "background: @line; min-height: 30px; }"
        "QScrollBar::add-line, QScrollBar::sub-line { height: 0; } QScrollBar::add-page, "
        "QScrollBar::sub-page { background: transparent; }";
    const std::pair<const char *, QPalette::ColorRole> names[] = {
        {"@board", QPalette::Window},    {"@bar", QPalette::Button},
        {"@ink", QPalette::WindowText},  {"@line", QPalette::Mid},
        {"@black", QPalette::Highlight}, {"@onBlack", QPalette::HighlightedText}};
    for (const auto &[name, role] : names)
        rules.replace(name, p.color(role).name());
    qApp->setStyleSheet(rules);
}

Surround after(Surround surround)
{
    return surround == Surround::Board  ? Surround::Dark
           : surround == Surround::Dark ? Surround::Paper
                                        : Surround::Board;
}

QString nameOf(Surround surround)
{
    return surround == Surround::Board  ? QObject::tr("grey card")
           : surround == Surround::Dark ? QObject::tr("dark")
                                        : QObject::tr("paper");
}

void useTypeface()
{
    for (const char *file :
         {":/fonts/Inter-Regular.otf", ":/fonts/Inter-SemiBold.otf", ":/fonts/Inter-Bold.otf"})
        QFontDatabase::addApplicationFont(QString::fromLatin1(file));
    QApplication::setFont(face(kBody));
}

QFont face(int pixels, int weight)
{
    QFont font(QStringLiteral("Inter"));
    font.setPixelSize(pixels);
    font.setWeight(QFont::Weight(weight));
    font.setHintingPreference(QFont::PreferNoHinting);
    return font;
}

int drawLine(QPainter &painter, const QRect &where, const QString &text, const QFont &font, int flags)
{
    painter.setFont(font);
    const QFontMetrics metrics(font);
    const QString shown = metrics.elidedText(text, Qt::ElideRight, where.width());
    painter.drawText(where, flags | Qt::TextSingleLine, shown);
    return where.left() + metrics.horizontalAdvance(shown);
}

int drawWords(QPainter &painter, const QRect &where, const QString &text, const QFont &font)
{
    painter.setFont(font);
    QRect used;
    QString kept = text; // a figure stays with its unit
    kept.replace(" %", QString(QChar::Nbsp) + '%');
    painter.drawText(where, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, kept, &used);
    return used.height();
}

} // namespace wavechroma::app
