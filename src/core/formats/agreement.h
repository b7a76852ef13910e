#pragma once
#include <string>
#include <vector>

namespace wavechroma {

/// ΔE2000 between what an exported file does and the calibration that it was made from.
struct Agreement
{
    double mean = 0, p98 = 0, worst = 0; ///< p98: 98 of a hundred colours are within it
    /// What every kind of file is held to before it is written: on average within 0.3.
    [[nodiscard]] bool isKept() const { return mean <= 0.3; }
};
/// All zero for no errors.
[[nodiscard]] Agreement agreementOf(std::vector<double> errors);
/// "its table is within ΔE 0.05 of the calibration on average, 0.12 for 98 %, 0.31 at worst"
[[nodiscard]] std::string textOf(const Agreement &agreement);

} // namespace wavechroma
