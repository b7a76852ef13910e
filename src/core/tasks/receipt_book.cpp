#include "core/tasks/receipt_book.h"

#include "core/formats/whole_file.h"
#include "core/raw/file_digest.h"
#include "core/tasks/delivery_files.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <system_error>
#include <unistd.h>
#include <utility>

namespace wavechroma {

namespace fs = std::filesystem;

static fs::path logIn(const fs::path &folder)
{
    return folder / kGrowing / "receipts";
}

/// What a receipt says once a call that was killed is looked at again: it was written for a file whose place
/// may still be that of the file before.
static DeliveryReceipt settled(DeliveryReceipt receipt, const fs::path &folder)
{
    if (receipt.replaces.empty())
        return receipt;
    std::error_code code;
    const auto file = folder / receipt.path;
    const auto hash = sha256OfFile(file);
    if (hash && *hash == receipt.replaces) {
        receipt.sha256 = receipt.replaces;
        receipt.bytes = fs::file_size(file, code);
        receipt.madeBy.clear();
    }
    receipt.replaces.clear();
    return receipt;
}

Result<ReceiptBook> ReceiptBook::read(const fs::path &folder)
{
    ReceiptBook out;
    std::error_code code;
    if (fs::exists(folder / kReceipts, code)) {
        const auto text = readText(folder / kReceipts);
        if (!text)
            return text.error();
        const auto before = deliveryFrom(*text, (folder / kReceipts).string());
        if (!before)
            return before.error();
        for (const auto &receipt : before->receipts)
            out.put(receipt);
    }
    const auto log = fs::exists(logIn(folder), code) ? readText(logIn(folder)) : Result<std::string>("");
    if (!log)
        return log.error();
    for (size_t from = 0, end = 0; (end = log->find('\n', from)) != log->npos; from = end + 1)
        if (const auto receipt = receiptFromLine(log->substr(from, end - from), logIn(folder).string()))
            out.put(*receipt);
    for (auto &receipt : out.m_all)
        receipt = settled(receipt, folder);
    return out;
}

ReceiptBook::ReceiptBook(ReceiptBook &&other) noexcept
    : m_all(std::move(other.m_all)), m_places(std::move(other.m_places)),
      m_logPath(std::move(other.m_logPath)), m_log(std::exchange(other.m_log, -1))
{
}

ReceiptBook &ReceiptBook::operator=(ReceiptBook &&other) noexcept
{
    std::swap(m_all, other.m_all);
    std::swap(m_places, other.m_places);
    std::swap(m_logPath, other.m_logPath);
    std::swap(m_log, other.m_log);
    return *this;
}

ReceiptBook::~ReceiptBook()
{
    if (m_log >= 0)
        close(m_log);
}

void ReceiptBook::put(const DeliveryReceipt &receipt)
{
    const auto [at, isNew] = m_places.try_emplace(receipt.path, m_all.size());
    if (isNew)
        m_all.push_back(receipt);
    else
        m_all[at->second] = receipt;
}

const DeliveryReceipt *ReceiptBook::of(const std::string &path) const
{
    const auto at = m_places.find(path);
    return at == m_places.end() || m_all[at->second].sha256.empty() ? nullptr : &m_all[at->second];
}

std::vector<DeliveryReceipt> ReceiptBook::all() const
{
    std::vector<DeliveryReceipt> out;
    for (const auto &receipt : m_all)
        if (!receipt.sha256.empty())
            out.push_back(receipt);
    return out;
}

Result<Done> ReceiptBook::openLog(const fs::path &folder)
{
    m_logPath = logIn(folder);
    m_log = open(m_logPath.c_str(), O_WRONLY | O_CREAT | O_APPEND | O_CLOEXEC, 0666);
    if (m_log < 0)
        return unusable("{file}: {why}", {{"file", m_logPath.string()}, {"why", std::strerror(errno)}});
    return Done{};
}

Result<Done> ReceiptBook::append(const DeliveryReceipt &receipt)
{
    put(receipt);
    // begins with a line's end too, so that a line before it that a kill or a full disk cut short ends there
    const auto line = '\n' + lineOf(receipt) + '\n';
    if (write(m_log, line.data(), line.size()) != ssize_t(line.size()) || fdatasync(m_log) != 0)
        return unusable("{file}: {why}",
                        {{"file", m_logPath.string()}, {"why", std::strerror(errno ? errno : ENOSPC)}});
    return Done{};
}

Result<Done> ReceiptBook::set(const DeliveryReceipt &receipt)
{
    return append(receipt);
}

Result<Done> ReceiptBook::remove(const std::string &path)
{
    DeliveryReceipt none;
    none.path = path;
    return append(none);
}

} // namespace wavechroma
