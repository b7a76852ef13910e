#pragma once
#include "core/base/phrase.h"

#include <algorithm>
#include <atomic>
#include <functional>
#include <memory>

namespace wavechroma {

/// How a long function tells where it is, and learns that it should stop. May be called from any one thread
/// at a time. A default-made Progress listens to nothing and is never cancelled.
struct Progress
{
    std::function<void(double fraction, const words::Phrase &step)> report;
    const std::atomic<bool> *cancelled = nullptr;

    void at(double fraction, const words::Phrase &step) const
    {
        if (report)
            report(fraction, step);
    }
    void at(double fraction, const char *step) const
    {
        if (report)
            report(fraction, {step});
    }
    /// Returns the progress of a step of a longer work, from one share of it to another. Where the step
    /// begins anew inside, the whole does not go back.
    [[nodiscard]] Progress part(double from, double to) const
    {
        if (!report)
            return *this;
        const auto furthest = std::make_shared<double>(from);
        return {[whole = report, furthest, from, to](double fraction, const words::Phrase &step) {
                    *furthest = std::max(*furthest, from + std::clamp(fraction, 0.0, 1.0) * (to - from));
                    whole(*furthest, step);
                },
                cancelled};
    }
    [[nodiscard]] bool stopped() const { return cancelled && cancelled->load(std::memory_order_relaxed); }
};

} // namespace wavechroma
