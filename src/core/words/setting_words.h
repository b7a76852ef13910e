#pragma once
#include "core/base/language.h"
#include "core/values/delivery.h"

/// Settings that people choose, as sentences.
namespace wavechroma::words {

/// A label, a choice or another text of a setting's row, in that language.
[[nodiscard]] std::string said(const char *text, const Language &language = plain());
/// "JPEG, sRGB, 2400 px long side, sharpened": a form in a line.
[[nodiscard]] std::string summary(const DeliveryForm &form, const Language &language = plain());

} // namespace wavechroma::words
