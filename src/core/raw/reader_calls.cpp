#include "core/raw/reader_calls.h"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <initializer_list>
#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

namespace wavechroma::raw {

bool send(int socket, std::span<const uint8_t> bytes, std::initializer_list<int> files)
{
    iovec part{const_cast<uint8_t *>(bytes.data()), bytes.size()};
    alignas(cmsghdr) char control[CMSG_SPACE(kMostFiles * sizeof(int))] = {};
    msghdr message{};
    message.msg_iov = &part;
    message.msg_iovlen = 1;
    if (files.size() > 0) {
        message.msg_control = control;
        message.msg_controllen = CMSG_SPACE(files.size() * sizeof(int));
        cmsghdr *head = CMSG_FIRSTHDR(&message);
        head->cmsg_level = SOL_SOCKET;
        head->cmsg_type = SCM_RIGHTS;
        head->cmsg_len = CMSG_LEN(files.size() * sizeof(int));
        std::memcpy(CMSG_DATA(head), std::data(files), files.size() * sizeof(int));
    }
    ssize_t sent = 0;
    do
        sent = sendmsg(socket, &message, MSG_NOSIGNAL);
    while (sent < 0 && errno == EINTR);
    return sent == ssize_t(bytes.size());
}

/// False when nothing came in time.
static bool comesWithin(int socket, double seconds)
{
    using Clock = std::chrono::steady_clock;
    const auto end = Clock::now() + std::chrono::duration<double>(seconds);
    for (;;) {
        const auto left = std::chrono::ceil<std::chrono::milliseconds>(end - Clock::now()).count();
        pollfd one{socket, POLLIN, 0};
        const int code = poll(&one, 1, int(std::clamp<int64_t>(left, 0, 1'000'000)));
        if (code > 0)
            return true;
        if (code == 0 || errno != EINTR)
            return false;
    }
}

std::optional<Message> receive(int socket, double seconds)
{
    if (seconds >= 0 && !comesWithin(socket, seconds))
        return std::nullopt;
    Message out;
    out.bytes.resize(kMostMessage);
    iovec part{out.bytes.data(), out.bytes.size()};
    alignas(cmsghdr) char control[CMSG_SPACE(kMostFiles * sizeof(int))] = {};
    msghdr message{};
    message.msg_iov = &part;
    message.msg_iovlen = 1;
    message.msg_control = control;
    message.msg_controllen = sizeof control;
    ssize_t size = 0;
    do
        size = recvmsg(socket, &message, MSG_CMSG_CLOEXEC);
    while (size < 0 && errno == EINTR);
    for (cmsghdr *head = size > 0 ? CMSG_FIRSTHDR(&message) : nullptr; head;
         head = CMSG_NXTHDR(&message, head))
        if (head->cmsg_level == SOL_SOCKET && head->cmsg_type == SCM_RIGHTS) {
            const size_t count = std::min(kMostFiles, (head->cmsg_len - CMSG_LEN(0)) / sizeof(int));
            std::memcpy(out.files, CMSG_DATA(head), count * sizeof(int));
        }
    if (size <= 0)
        return std::nullopt;
    out.bytes.resize(size_t(size));
    return out;
}

} // namespace wavechroma::raw
