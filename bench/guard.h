#pragma once
#include <cstdlib>
#include <fmt/format.h>
#include <fstream>
#include <nlohmann/json.hpp>
#include <string>

namespace wavechroma::bench {

/// Holds the figures of a benchmark to the limits that are published (bench/limits.json), where the
/// environment's WAVECHROMA_BENCH_LIMITS names that file; else it only prints. A figure that has no limit
/// there, and a limit whose figure was not measured, fail too.
class Guard
{
public:
    explicit Guard(const char *bench)
    {
        if (const char *file = std::getenv("WAVECHROMA_BENCH_LIMITS"))
            m_limits = nlohmann::json::parse(std::ifstream(file)).at(bench);
    }
    void figure(const std::string &name, double value)
    {
        if (m_limits.is_null())
            return;
        const auto limit = m_limits.find(name);
        const bool isKnown = limit != m_limits.end();
        const double least = isKnown ? limit->value("least", -1e300) : 0,
                     most = isKnown ? limit->value("most", 1e300) : 0;
        const bool isRight = isKnown && value >= least && value <= most;
        fmt::print("{} {}: {:.4g}{}\n", isRight ? "held  " : "FAILS ", name, value,
                   isKnown ? " of " + limit->dump() : " has no limit");
        m_faults += !isRight;
        m_limits.erase(name);
    }
    /// Of main().
    [[nodiscard]] int status() const
    {
        int faults = m_faults;
        for (const auto &[name, limit] : m_limits.items()) {
            fmt::print("FAILS  {}: was not measured\n", name);
            ++faults;
        }
        return faults > 0;
    }

private:
    nlohmann::json m_limits; ///< those that were not asked for yet; null: nothing is guarded
    int m_faults = 0;
};

} // namespace wavechroma::bench
