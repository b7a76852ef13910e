#pragma once
#include "core/base/result.h"
#include "core/values/delivery.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

/// What leaves a job: the plan, and the receipts of what was written.
namespace wavechroma {

/// All product frames as 16-bit TIFF in sRGB.
[[nodiscard]] Delivery ordinaryDelivery();
/// The contract's `wavechroma.delivery/1`.
[[nodiscard]] std::string documentOf(const Delivery &delivery);
/// Unusable, naming the field, for words that are not known, forms that share a name, and a form without one.
[[nodiscard]] Result<Delivery> deliveryFrom(const std::string &text, const std::string &name);
/// One receipt on a line of its own, without the line's end, and back. Unusable, naming the field.
[[nodiscard]] std::string lineOf(const DeliveryReceipt &receipt);
[[nodiscard]] Result<DeliveryReceipt> receiptFromLine(const std::string &line, const std::string &name);
/// The form's own settings as text, always the same for the same ones.
[[nodiscard]] std::string textOf(const DeliveryForm &form);

} // namespace wavechroma
