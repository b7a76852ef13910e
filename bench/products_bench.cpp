// The same yarn under every station of the demo day, as its delivered pictures have it: against the simulated
// truth, and station against station; before (white balance alone, colours by the file's own matrix) and
// after; and how long thousands of frames are planned. wavechroma-bench-products [shrink]
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/measure/sample.h"
#include "core/raw/open_frame.h"
#include "core/tasks/deliver_task.h"
#include "core/tasks/demo_task.h"
#include "core/tasks/probe_task.h"

#include <algorithm>
#include <chrono>
#include <cstdlib>
#include <fmt/format.h>
#include <map>

using namespace wavechroma;
namespace fs = std::filesystem;

namespace {

/// Colours of the job's places in its delivered pictures, by yarn, with the station they are of.
using Seen = std::map<std::string, std::vector<std::pair<std::string, Lab>>>;

Seen delivered(const PictureSource &source, const fs::path &folder)
{
    Delivery asked = ordinaryDelivery();
    asked.forms.front().picture.space = RgbSpaceId::Romm;
    asked.forms.front().picture.level = PictureLevel::Chart;
    const auto plan = *planDelivery(source, asked, folder);
    if (const auto done = deliver(source, asked, folder); !done) {
        fmt::print("{}\n", done.error().message);
        std::exit(1);
    }
    Seen out;
    for (const auto &item : plan.items) {
        const auto picture = *openFrame(folder / item.planned.path);
        const auto toXyz = *picture.fileColor.xyzD50FromRendered;
        for (const auto &place : placesOn(source.state(), item.frame))
            if (const auto disc = sampleDisc(picture, {place.x, place.y}, place.radius))
                out[place.name].emplace_back(source.job().stations().of(item.frame)->name,
                                             labFromXyz(xyzOf(toXyz * vectorOf(disc->mean))));
    }
    return out;
}

/// The job with another crossing of parts for its answers.
PictureSource withParts(const PictureSource &source, const Parts &parts)
{
    auto state = source.state();
    state.title.parts = parts;
    return PictureSource::of(Job(state, source.folder()));
}

void tell(const char *what, const Seen &seen, const std::vector<ProbeTarget> &truth)
{
    double off = 0, worst = 0, spread = 0, most = 0;
    int count = 0, pairs = 0;
    for (const auto &[yarn, all] : seen) {
        const auto *right = targetNamed(truth, yarn);
        for (size_t i = 0; i < all.size(); ++i) {
            const double error = de2000(all[i].second, right->lab);
            off += error;
            worst = std::max(worst, error);
            ++count;
            for (size_t j = 0; j < i; ++j)
                if (all[i].first != all[j].first) {
                    const double between = de2000(all[i].second, all[j].second);
                    spread += between;
                    most = std::max(most, between);
                    ++pairs;
                }
        }
    }
    fmt::print("{:24} to the truth {:.2f} mean, {:.2f} worst of {}; between stations {:.2f} mean, {:.2f} "
               "worst of {} "
               "pairs\n",
               what, off / count, worst, count, spread / pairs, most, pairs);
}

/// A season in one job: how long its delivery is planned, names apart and all alike, beside one frame's plan.
void thousands(const PictureSource &source, const fs::path &folder)
{
    auto state = source.state();
    const auto product = *std::find_if(state.frames.begin(), state.frames.end(),
                                       [](const JobFrame &f) { return f.part == FramePart::Product; });
    std::erase_if(state.frames.edit(), [](const JobFrame &f) { return f.part == FramePart::Product; });
    for (const int count : {1, 1000, 4000}) {
        auto many = state;
        for (int i = 0; i < count; ++i) {
            auto row = product;
            row.id = 100000 + i;
            many.frames.push_back(row);
        }
        const auto season = PictureSource::of(Job(many, source.folder()));
        for (const char *names : {"{frame}", "{setup}/{frame}-{form}"}) {
            auto asked = ordinaryDelivery();
            asked.names = names;
            const auto begun = std::chrono::steady_clock::now();
            const auto plan = *planDelivery(season, asked, folder);
            fmt::print(
                "plan of {} frames, {}: {} files, {:.0f} ms\n", count, names, plan.items.size(),
                std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count());
        }
    }
}

} // namespace

int main(int argc, char **argv)
{
    const auto folder = fs::temp_directory_path() / "wavechroma-bench-products";
    fs::remove_all(folder);
    if (const auto made = makeDemo(folder / "day", {argc > 1 ? std::atoi(argv[1]) : 2, 1}); !made) {
        fmt::print("{}\n", made.error().message);
        return 1;
    }
    const auto source = *PictureSource::open({{}, folder / "day", {}, {}});
    thousands(source, folder / "season");
    const auto truth = targetsOf(source.state());
    tell("white balance alone", delivered(withParts(source, {"balance", "as-shot"}), folder / "before"),
         truth);
    tell("matrix", delivered(withParts(source, plainParts()), folder / "matrix"), truth);
    tell("as recommended", delivered(source, folder / "after"), truth);
    fs::remove_all(folder);
    return 0;
}
