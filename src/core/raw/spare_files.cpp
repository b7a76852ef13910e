#include "core/raw/spare_files.h"

#include <unistd.h>

namespace wavechroma::raw {

SpareFiles::~SpareFiles()
{
    for (const auto &spare : m_spares)
        close(spare.file);
}

void SpareFiles::keep(int file, size_t bytes)
{
    constexpr size_t kMost = 2, kLeastBytes = 4 << 20, kMostBytes = size_t(1) << 30;
    const std::lock_guard lock(m_mutex);
    if (bytes < kLeastBytes || bytes > kMostBytes) {
        close(file);
        return;
    }
    m_spares.push_back({file, bytes});
    if (m_spares.size() > kMost) {
        close(m_spares.front().file);
        m_spares.erase(m_spares.begin());
    }
}

SpareFiles::Spare SpareFiles::take()
{
    const std::lock_guard lock(m_mutex);
    if (m_spares.empty())
        return {};
    const auto last = m_spares.back();
    m_spares.pop_back();
    return last;
}

} // namespace wavechroma::raw
