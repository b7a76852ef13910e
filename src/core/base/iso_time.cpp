#include "core/base/iso_time.h"

#include <chrono>
#include <cstdio>

namespace wavechroma {

std::optional<double> secondsOf(const std::string &text)
{
    int year = 0, hour = 0, minute = 0, end = 0;
    unsigned month = 0, day = 0;
    double second = 0;
    if (std::sscanf(text.c_str(), "%4d-%2u-%2uT%2d:%2d:%n", &year, &month, &day, &hour, &minute, &end) < 5 ||
        end == 0)
        return std::nullopt;
    // by hand, for scanf would follow the locale's decimal sign
    size_t at = size_t(end);
    double unit = 10;
    for (bool fraction = false; at < text.size(); ++at) {
        const char c = text[at];
        if (c == '.' && !fraction) {
            fraction = true;
            unit = 0.1;
        } else if (c >= '0' && c <= '9') {
            second += fraction ? (c - '0') * unit : second * 9 + (c - '0');
            unit /= fraction ? 10 : 1;
        } else {
            break;
        }
    }
    const std::chrono::year_month_day date{std::chrono::year(year), std::chrono::month(month),
                                           std::chrono::day(day)};
    if (!date.ok() || hour > 24 || minute > 59 || second >= 61)
        return std::nullopt;
    int offsetHours = 0, offsetMinutes = 0;
    if (at < text.size() && (text[at] == '+' || text[at] == '-'))
        (void)std::sscanf(text.c_str() + at + 1, "%2d:%2d", &offsetHours, &offsetMinutes);
    const double offset =
        (offsetHours * 60 + offsetMinutes) * 60 * (at < text.size() && text[at] == '-' ? -1 : 1);
    const auto days = std::chrono::sys_days(date).time_since_epoch().count();
    return double(days) * 86400 + hour * 3600 + minute * 60 + second - offset;
}

} // namespace wavechroma
