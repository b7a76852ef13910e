#pragma once
#include "core/base/filled.h"
#include "core/base/language.h"
#include "core/base/result.h"

#include <QLocale>
#include <QString>

/// The language and figures of the window: templates through the application's translator, the decimal sign
/// of the locale. Files and the command line have neither (see words::plain()).
namespace wavechroma::app {

[[nodiscard]] const words::Language &spoken();
/// The locale's figures from now on; at the start those of the system.
void speakAs(const QLocale &locale);

[[nodiscard]] inline QString text(const std::string &s)
{
    return QString::fromStdString(s);
}
[[nodiscard]] QString text(const words::Phrase &phrase); ///< filled in the window's language
[[nodiscard]] QString text(const Error &error);
// Figures as the window writes them.
[[nodiscard]] QString fixed(double value, int decimals);
[[nodiscard]] QString withSign(double value, int decimals);
[[nodiscard]] QString percent(double ratio, int decimals = 0);
[[nodiscard]] QString kelvin(double kelvin);
[[nodiscard]] QString stops(double stops);
[[nodiscard]] QString exposure(double seconds); ///< "1/60 s"

} // namespace wavechroma::app
