#pragma once
#include "core/formats/delivery_document.h"

#include <filesystem>
#include <unordered_map>

/// The receipts of a delivery's folder; not for front ends.
namespace wavechroma {

/// While files are written, receipts are appended to a log beside `delivery.json`, which would be written
/// anew for each of thousands of files otherwise. A call that is killed loses none: whoever reads the folder
/// next puts the log's receipts over the document's. A line that a kill cut short is passed over: its file is
/// not there yet.
class ReceiptBook
{
public:
    /// Those of the document and the log that lie in the folder; empty where neither does. Unusable, naming
    /// the file, for a document that is damaged.
    [[nodiscard]] static Result<ReceiptBook> read(const std::filesystem::path &folder);

    ReceiptBook() = default;
    ReceiptBook(ReceiptBook &&other) noexcept;
    ReceiptBook &operator=(ReceiptBook &&other) noexcept;
    ~ReceiptBook();

    [[nodiscard]] const DeliveryReceipt *of(const std::string &path) const; ///< null: none
    [[nodiscard]] std::vector<DeliveryReceipt> all() const;                 ///< in the order they came in

    /// set() and remove() are on the disk when they return, from then on.
    [[nodiscard]] Result<Done> openLog(const std::filesystem::path &folder);
    [[nodiscard]] Result<Done> set(const DeliveryReceipt &receipt);
    [[nodiscard]] Result<Done> remove(const std::string &path);

private:
    void put(const DeliveryReceipt &receipt);
    [[nodiscard]] Result<Done> append(const DeliveryReceipt &receipt);

    std::vector<DeliveryReceipt> m_all; ///< one without a hash was removed
    std::unordered_map<std::string, size_t> m_places;
    std::filesystem::path m_logPath;
    int m_log = -1;
};

} // namespace wavechroma
