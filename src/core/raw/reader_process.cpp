#include "core/raw/reader_process.h"

#include "core/raw/reader_pool.h"

#include <atomic>

namespace wavechroma {

/// The one of this process, as the system knows one of each: who opens a frame, deep inside a step, is not to
/// choose where it is decoded. Null: it is decoded here.
static std::atomic<raw::ReaderPool *> poolOfThisProcess = nullptr;

FrameReaders::FrameReaders(const ReaderLimits &limits) : m_pool(std::make_unique<raw::ReaderPool>(limits))
{
    if (m_pool->isThere())
        poolOfThisProcess = m_pool.get();
}

FrameReaders::~FrameReaders()
{
    poolOfThisProcess = nullptr;
}

std::optional<Result<RawFrame>> raw::readElsewhere(ReaderStep step,
                                                   const std::shared_ptr<const MappedFile> &file,
                                                   const std::string &name, const std::string &assume)
{
    if (auto *pool = poolOfThisProcess.load())
        return pool->read(step, file, name, assume);
    return std::nullopt;
}

} // namespace wavechroma
