#include "core/base/capture_clock.h"

#include "core/base/iso_time.h"

namespace wavechroma {

namespace {

constexpr size_t kClock = 19; ///< characters of date and time

/// Seconds east of UTC; nothing where the time has no offset.
std::optional<double> offsetOf(const std::string &isoTime)
{
    if (isoTime.size() <= kClock)
        return std::nullopt;
    const auto local = secondsOf(isoTime.substr(0, kClock)), moment = secondsOf(isoTime);
    return local && moment ? std::optional(*local - *moment) : std::nullopt;
}

} // namespace

void CaptureClock::add(const std::string &isoTime)
{
    const auto offset = offsetOf(isoTime);
    m_areSeveral = m_areSeveral || (offset && m_offset && *offset != *m_offset);
    if (offset)
        m_offset = offset;
}

double CaptureClock::at(const std::string &isoTime) const
{
    const auto seconds = secondsOf(isoTime);
    if (!seconds)
        return -std::numeric_limits<double>::infinity();
    const bool isElsewhere = !offsetOf(isoTime) && m_offset && !m_areSeveral;
    return *seconds - (isElsewhere ? *m_offset : 0);
}

} // namespace wavechroma
