#pragma once
#include <QColor>
#include <QFont>
#include <QPainter>
#include <QPalette>

namespace wavechroma::app {

/// The room the colours are judged in. All of it is R = G = B.
enum class Surround { Board, Dark, Paper };

/// Colours by palette role, so that a change of surround reaches every widget as a palette change:
///   Window / WindowText: the board and its ink;  Base / Text: a paper tag (an answer);
///   Highlight / HighlightedText: a black tag (trouble, or what is chosen);  Mid: ruled lines;  Button: a
///   light bar.
[[nodiscard]] QPalette paletteOf(Surround surround);
/// Makes it the application's: palette and the few rules for buttons and bars.
void useSurround(Surround surround);
/// Fusion without icons on its buttons: the only colour on the screen comes from pictures and patches.
void useStyle();
[[nodiscard]] Surround after(Surround surround);
[[nodiscard]] QString nameOf(Surround surround);

/// Loads the typeface that ships with the program and makes it the application's.
void useTypeface();
/// Returns the shipped typeface; weight 400, 600 or 700; figures tabular where the face has them.
[[nodiscard]] QFont face(int pixels, int weight = 400);

inline constexpr int kBody = 14, kAnswer = 17, kHead = 16;

/// Draws one line, cut with an ellipsis when it is too long; says where its right end is.
int drawLine(QPainter &painter, const QRect &where, const QString &text, const QFont &font,
             int flags = Qt::AlignLeft | Qt::AlignVCenter);
/// Draws the same over several lines. Returns the height used.
int drawWords(QPainter &painter, const QRect &where, const QString &text, const QFont &font);

} // namespace wavechroma::app
