#pragma once
#include "core/raw/decoders.h"

#include <initializer_list>
#include <sys/types.h>

/// What goes between this process, the one that makes readers, and the readers. Not for other folders.
namespace wavechroma::raw {

enum class ReaderStep : int {
    Open,            ///< as openFrame()
    LibraryPicture,  ///< as pictureByLibrary()
    EmbeddedPicture, ///< as embeddedPicture()
    PictureCodes,    ///< as pictureCodes()
};

/// Lets a reader do the step; returns nothing if there are no readers.
[[nodiscard]] std::optional<Result<RawFrame>> readElsewhere(ReaderStep step,
                                                            const std::shared_ptr<const MappedFile> &file,
                                                            const std::string &name,
                                                            const std::string &assume);

/// In this process.
[[nodiscard]] Result<RawFrame> openHere(const std::shared_ptr<const MappedFile> &file,
                                        const std::string &name, const std::string &assume);
[[nodiscard]] Result<RawFrame> pictureCodesHere(const MappedFile &file, const std::string &name,
                                                const std::string &assume);
[[nodiscard]] Result<RawFrame> libraryPictureHere(const MappedFile &file, const std::string &name);
[[nodiscard]] Result<RawFrame> embeddedPictureHere(const MappedFile &file, const std::string &name);

// Messages over a SOCK_SEQPACKET socket: bytes, and up to three open files beside them.
inline constexpr size_t kMostMessage = 16 << 10, kMostFiles = 3;
struct Message
{
    std::vector<uint8_t> bytes;
    int files[kMostFiles] = {-1, -1, -1}; ///< the receiver's to close
};
[[nodiscard]] bool send(int socket, std::span<const uint8_t> bytes, std::initializer_list<int> files = {});
/// Receives a message. Returns nothing if the other end is gone or sent nothing for `seconds`; below 0 waits
/// without end.
[[nodiscard]] std::optional<Message> receive(int socket, double seconds = -1);

/// What the caller asks of a reader, once: this, then the name, then the space. Files: the frame's, and two
/// in memory that it fills, for facts and for samples.
struct ReaderCall
{
    ReaderStep step = ReaderStep::Open;
    uint32_t nameSize = 0, assumeSize = 0;
    uint64_t memory = 0;  ///< that it may use beyond what it has, bytes; its files may be as long, each
    uint32_t seconds = 0; ///< of processor time
    uint64_t spare = 0;   ///< bytes that the file for samples has already
};
/// What is said to the caller: this.
struct ReaderAnswer
{
    enum class Kind : int {
        Hello,   ///< once, by the process that made the reader. File: the reader, as a pidfd (pidfd_open(2))
        Frame,   ///< or why there is none
        TooLong, ///< it ran out of processor time
    } kind = Kind::Hello;
    uint64_t factsSize = 0, samples = 0;
};

/// The life of the process that makes readers: one for each message, which brings the reader's socket. It
/// ends with the process that it serves, and its readers with it.
[[noreturn]] void makeReaders(int socket);

} // namespace wavechroma::raw
