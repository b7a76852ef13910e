#pragma once
#include <atomic>
#include <functional>
#include <string_view>

namespace wavechroma {

/// How a long function tells where it is, and learns that it should stop. May be called from any one thread
/// at a time. A default-made Progress listens to nothing and is never cancelled.
struct Progress
{
    std::function<void(double fraction, std::string_view step)> report;
    const std::atomic<bool> *cancelled = nullptr;

    void at(double fraction, std::string_view step) const
    {
        if (report)
            report(fraction, step);
    }
    [[nodiscard]] bool stopped() const { return cancelled && cancelled->load(std::memory_order_relaxed); }
};

} // namespace wavechroma
