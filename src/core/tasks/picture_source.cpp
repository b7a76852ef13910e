#include "core/tasks/picture_source.h"

#include "core/base/said.h"
#include "core/capture/compare_frames.h"
#include "core/capture/scale.h"
#include "core/jobstore/job_store.h"
#include "core/raw/file_digest.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/job_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/reference_task.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <ctime>
#include <map>
#include <mutex>
#include <sys/stat.h>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

Vector3 multipliersOf(const Balance &balance)
{
    return balance.leaned.value_or(balance.multipliers);
}

/// Neutral of a frame's light, camera RGB with green 1: a calibration of several lights asks for it.
std::optional<Vector3> neutralOf(const RawFrame &frame, const std::optional<Balance> &balance)
{
    if (!balance)
        return frame.fileColor.asShotNeutral;
    const auto m = multipliersOf(*balance);
    return Vector3{1 / m[0], 1 / m[1], 1 / m[2]};
}

/// A file's hash, worked out once for a file that stays as it is: probes are measured again at each step of a
/// drag. Which file it is, its size and its times tell; one written to in this very moment is not kept.
Result<std::string> knownHashOf(const fs::path &file)
{
    using Stamp = std::array<int64_t, 7>;
    constexpr size_t kMost = 64;
    static std::mutex together;
    static std::map<std::string, std::pair<Stamp, std::string>> known;
    struct stat info
    {
    };
    if (::stat(file.c_str(), &info) != 0)
        return sha256OfFile(file); // which says why
    const Stamp stamp{int64_t(info.st_dev),          int64_t(info.st_ino),
                      int64_t(info.st_size),         int64_t(info.st_mtim.tv_sec),
                      int64_t(info.st_mtim.tv_nsec), int64_t(info.st_ctim.tv_sec),
                      int64_t(info.st_ctim.tv_nsec)};
    {
        const std::lock_guard lock(together);
        if (const auto at = known.find(file.string()); at != known.end() && at->second.first == stamp)
            return at->second.second;
    }
    auto hash = sha256OfFile(file);
    constexpr int kSettled = 2; // seconds: two writings within the clock's step have one time
    if (hash && std::time(nullptr) - info.st_ctim.tv_sec > kSettled) {
        const std::lock_guard lock(together);
        if (known.size() >= kMost)
            known.clear();
        known[file.string()] = {stamp, *hash};
    }
    return hash;
}

} // namespace

std::optional<double> exposureAgainstChart(const CameraFacts &frame, const PictureServes &serves)
{
    CameraFacts own = frame, chart = serves.calibration.camera;
    if (serves.time == ExposureTime::DoesNotCount)
        own.exposureSeconds = chart.exposureSeconds = 1;
    const auto stops = settingStops(own, chart);
    return stops ? std::optional(std::exp2(*stops)) : std::nullopt;
}

Result<const JobFrame *> PictureSource::rowOf(const fs::path &image) const
{
    const auto hash = knownHashOf(image);
    if (!hash)
        return hash.error();
    std::error_code code;
    const JobFrame *byBytes = nullptr;
    bool isReplaced = false;
    for (const auto &frame : state().frames) {
        const bool isSame = frame.sha256 == *hash, isThere = fs::equivalent(fileOf(frame), image, code);
        if (isSame && isThere)
            return &frame;
        byBytes = isSame && !byBytes ? &frame : byBytes;
        isReplaced = isReplaced || isThere;
    }
    if (byBytes)
        return byBytes;
    if (isReplaced)
        return unusable("{file}: is not the file that was added to the job {job}. Add it again",
                        {{"file", image.string()}, {"job", folder().string()}});
    return unusable("{file}: is not a frame of the job {job}",
                    {{"file", image.string()}, {"job", folder().string()}});
}

Result<PictureSource> PictureSource::open(const Asked &asked)
{
    PictureSource out;
    out.m_flat = asked.flat;
    if (!asked.balance.empty()) {
        const auto balance = loadBalance(asked.balance);
        if (!balance)
            return balance.error();
        out.m_balance = *balance;
    }
    if (!asked.calibration.empty()) {
        const auto calibration = loadCalibration(asked.calibration);
        if (!calibration)
            return calibration.error();
        out.m_calibration = *calibration;
        return out;
    }
    const auto store = JobStore::open(asked.job);
    if (!store)
        return store.error();
    const auto state = (*store)->load();
    if (!state)
        return state.error();
    out.m_job = Job(*state, asked.job);
    return out;
}

PictureSource PictureSource::of(Job job)
{
    PictureSource out;
    out.m_job = std::move(job);
    return out;
}

Result<PictureServes> PictureSource::servesFor(const fs::path &image) const
{
    if (!m_calibration) {
        const auto row = rowOf(image);
        return row ? Result<PictureServes>(servesFor(**row)) : row.error();
    }
    PictureServes out;
    out.balance = m_balance;
    if (!m_flat.empty())
        out.flats = {m_flat};
    out.calibration = *m_calibration;
    return out;
}

PictureServes PictureSource::servesFor(const JobFrame &frame) const
{
    auto out = *m_job.serves(frame);
    if (m_balance)
        out.balance = m_balance;
    if (!m_flat.empty())
        out.flats = {m_flat};
    return out;
}

ModelBlend modelsOf(const RawFrame &frame, const PictureServes &serves)
{
    auto models = modelsFor(serves.calibration, neutralOf(frame, serves.balance));
    if (serves.balance && serves.calibration.lights.empty())
        for (auto &[weight, model] : models.parts)
            model.multipliers = multipliersOf(*serves.balance);
    return models;
}

double levelOf(const RawFrame &frame, const PictureServes &serves, bool atChartLevel)
{
    return serves.level / (atChartLevel ? exposureAgainstChart(frame.camera, serves).value_or(1) : 1);
}

RenderPlan renderPlan(const RawFrame &frame, const PictureServes &serves, const RgbSpace &space,
                      bool atChartLevel)
{
    RenderPlan plan;
    plan.space = space;
    plan.models = modelsOf(frame, serves);
    plan.level = levelOf(frame, serves, atChartLevel);
    return plan;
}

Result<RawFrame> evened(const RawFrame &frame, const PictureServes &serves,
                        std::vector<words::Phrase> &remarks)
{
    if (serves.flats.empty()) {
        if (!serves.calibration.flats.empty())
            remarks.push_back(
                {words::said("{file}: the calibration was made with a flat, but none is given, so the "
                             "light's falloff stays in the picture"),
                 {{"file", frame.path}}});
        return frame;
    }
    words::Phrase warning;
    auto flat = withFlats(frame, serves.flats, &warning);
    if (flat && !warning.empty())
        remarks.push_back(warning);
    return flat;
}

} // namespace wavechroma
