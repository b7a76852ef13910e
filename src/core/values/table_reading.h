#pragma once
#include <string>

namespace wavechroma {

/// What a table of reference values or targets was taken for, to be shown to whoever gave it.
struct TableReading
{
    enum class Kind { None, Lab, Xyz, Spectra, Srgb } kind = Kind::None;
    bool isPerCent = false; ///< of XYZ and spectra: 100 is white
    std::string light;      ///< that Lab and XYZ were for, before they were taken to D50
};

} // namespace wavechroma
