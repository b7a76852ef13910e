#pragma once
#include "core/base/progress.h"
#include "core/formats/delivery_document.h"
#include "core/tasks/delivery_profiles.h"
#include "core/tasks/picture_source.h"

#include <functional>
#include <memory>
#include <set>

namespace wavechroma {

/// A file of a delivery.
struct DeliveryItem
{
    DeliveryReceipt planned;                        ///< without hash, size and time
    size_t form = 0;                                ///< into the forms
    RowId frame = 0;                                ///< 0: it is of what serves, or of all
    RowId chart = 0;                                ///< 0: none
    std::shared_ptr<const PictureServes> serves;    ///< of what is made of a frame: as its form wants it
    ProfileSource profile;                          ///< of a profile, a table or a chart's patches
    std::shared_ptr<const Calibration> calibration; ///< that its profile is of
    ProfileFile file = ProfileFile::Dcp;
    std::string nameInProfile;  ///< empty: the calibration's own
    bool isTableBefore = false; ///< of a .cube for linear input: the 1D table that goes before it
    std::string chartAt;        ///< when that was shot; empty: none
    bool isByBrought = false;   ///< a calibration brought along serves the frame, not its chart
    std::vector<Doubt> doubts;  ///< as in the receipt, with what they say
    /// For people and dry runs: the planned path, whole where it is elsewhere.
    [[nodiscard]] std::string shownPath() const;
    /// It was written, and what it is made by has changed since.
    [[nodiscard]] bool isStale() const { return isOurs && !isDone; }
    uint64_t roughBytes = 0; ///< guessed by what such files take
    bool isDone = false;     ///< there already, as its receipt says
    bool isOurs = false;     ///< a file is there whose bytes are those of its receipt: it may be replaced
    bool isInTheWay = false; ///< another file of that name is there: no receipt knows it, or it was changed
    std::filesystem::path folder = {};    ///< that the planned path is below
    bool isElsewhere = false;             ///< that is the form's own, not the one given for all
    std::optional<PictureCrop> crop = {}; ///< of a picture
    bool sharesName = false; ///< the pattern gives another file the same name: one of them is numbered
};

/// What will be written, and what will not: the dry run.
struct DeliveryPlan
{
    Delivery asked; ///< with what is left out, and the receipts that lie in the folder
    std::vector<DeliveryItem> items;
    /// Receipts of files that their form would write under another name now; stale.
    std::vector<DeliveryReceipt> outlived = {};
    [[nodiscard]] std::vector<std::string> inTheWay() const; ///< paths
    [[nodiscard]] std::vector<std::string> sharingNames() const;
    [[nodiscard]] uint64_t roughBytes() const; ///< of what is not done
    [[nodiscard]] Delivery dryRun() const;     ///< receipts are those planned, without hashes
};

[[nodiscard]] Result<Delivery> loadDelivery(const std::filesystem::path &file);
/// A form of a plan by its name. Unusable where there is none, or none of pictures.
[[nodiscard]] Result<DeliveryForm> pictureForm(const std::filesystem::path &plan, const std::string &name);

/// Plans a delivery by what serves each frame now. Decodes nothing and writes nothing. `folder`: where forms
/// go that have none of their own, may be empty where all have; receipts of an earlier run that lie there are
/// looked at, and the files' hashes where they were written to since or `verify`; then also those of sources
/// that were written to since. A frame whose file is another one than was taken is left out
/// ("source-changed"). Unusable for a name with places that are not known, for frames that are none of the
/// job's, and for documents of the job that cannot be read.
[[nodiscard]] Result<DeliveryPlan> planDelivery(const PictureSource &source, const Delivery &asked,
                                                const std::filesystem::path &folder, bool verify = true);

struct DeliverOptions
{
    bool replaceAll = false;             ///< whatever is in the way
    std::set<std::string> replaced = {}; ///< or of that, the files at these paths below the folder
    /// Told of the plan before anything is written.
    std::function<void(const DeliveryPlan &)> onPlan = {};
    /// Told what the user should know of a picture, once it is made: a preset of another light, a flat that
    /// is missing.
    std::function<void(const words::Phrase &)> onRemark = {};
};

/// Plans under the folder's lock, then writes what is not done, one file after the other, each whole or not
/// at all, and after each `delivery.json`. A file is replaced only while its bytes are those of its receipt;
/// any other one, and one that comes meanwhile, is kept and left out ("in-the-way"). A file without a
/// receipt that is what would be written (by commandsOf(), or by a call that was killed) gets one. A receipt
/// speaks of the very bytes of the source that were rendered: a source that changed meanwhile is left out.
/// Killed or stopped at any moment, another call goes on. Unusable, with what was written before kept, for a
/// full disk, a folder that is gone, and another delivery that writes there.
[[nodiscard]] Result<Delivery> deliver(const PictureSource &source, const Delivery &asked,
                                       const std::filesystem::path &folder,
                                       const DeliverOptions &options = {}, const Progress &progress = {});

/// One self-contained call of `render` for each picture that is not done, for a runner of jobs: the same
/// bytes as deliver() writes. `planFile`: where the plan was read, for forms that say more than `render` has
/// options for. `program`: the command line, so that a line runs where it is not on the path.
[[nodiscard]] std::vector<std::string> commandsOf(const PictureSource &source, const DeliveryPlan &plan,
                                                  const std::filesystem::path &planFile,
                                                  const std::filesystem::path &program);

} // namespace wavechroma
