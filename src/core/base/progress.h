#pragma once
#include "core/base/filled.h"

#include <atomic>
#include <functional>

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
    [[nodiscard]] bool stopped() const { return cancelled && cancelled->load(std::memory_order_relaxed); }
};

} // namespace wavechroma
