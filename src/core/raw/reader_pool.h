#pragma once
#include "core/raw/reader_calls.h"
#include "core/raw/reader_process.h"
#include "core/raw/spare_files.h"

namespace wavechroma::raw {

/// Readers that wait for frames, and the process that makes them. Thread-safe.
class ReaderPool
{
public:
    /// Forks the process that makes readers. `isThere` is false where the system gives none.
    explicit ReaderPool(const ReaderLimits &limits);
    ~ReaderPool(); ///< ends them all
    ReaderPool(const ReaderPool &) = delete;
    ReaderPool &operator=(const ReaderPool &) = delete;
    [[nodiscard]] bool isThere() const { return m_makerSocket >= 0; }

    /// Lets a reader do the step.
    [[nodiscard]] Result<RawFrame> read(ReaderStep step, const std::shared_ptr<const MappedFile> &file,
                                        const std::string &name, const std::string &assume);

private:
    struct Reader
    {
        int socket = -1; ///< −1: none
        int handle = -1; ///< the process (pidfd), once it said that it is there
    };
    struct Filled;
    [[nodiscard]] Reader newReader() const;
    [[nodiscard]] Reader takeReader();
    static void end(const Reader &reader);
    void makeNextReady();
    [[nodiscard]] ReaderCall callFor(ReaderStep step, const std::string &name, const std::string &assume,
                                     size_t fileSize) const;
    [[nodiscard]] std::optional<Result<RawFrame>>
    frameIn(const ReaderAnswer &answer, const Filled &filled,
            const std::shared_ptr<const MappedFile> &file) const;
    [[nodiscard]] Result<RawFrame> answered(const Message &message, const Filled &filled,
                                            const std::shared_ptr<const MappedFile> &file,
                                            const std::string &name) const;

    const ReaderLimits m_limits;
    pid_t m_maker = -1;
    int m_makerSocket = -1;
    std::mutex m_mutex;            ///< of what follows
    std::vector<Reader> m_waiting; ///< that are ready, or on their way
    int m_filesRead = 0;
    std::shared_ptr<SpareFiles> m_spares = std::make_shared<SpareFiles>(); ///< frames give theirs back to it
};

} // namespace wavechroma::raw
