#pragma once
#include <limits>
#include <optional>
#include <string>

namespace wavechroma {

/// The order of times of capture (ISO 8601) of several bodies. A time with an offset is a moment. One without
/// is local, and where is not known: it is taken to be where the frames are that do say so, if these agree on
/// one offset, and as UTC otherwise.
class CaptureClock
{
public:
    /// Each time that is to be put in order, before the first is asked for.
    void add(const std::string &isoTime);
    /// Seconds since 1970; −∞ for a time that is not known, which comes first.
    [[nodiscard]] double at(const std::string &isoTime) const;
    bool operator==(const CaptureClock &) const = default;
    [[nodiscard]] bool isBefore(const std::string &a, const std::string &b) const { return at(a) < at(b); }

private:
    std::optional<double> m_offset; ///< seconds east of UTC
    bool m_areSeveral = false;
};

} // namespace wavechroma
