#include "app/model/call_out_words.h"

#include "core/base/number_text.h"

#include <fmt/format.h>

namespace wavechroma::app {

std::vector<std::string> sentencesOf(const std::string &message)
{
    std::vector<std::string> out;
    size_t from = 0;
    for (size_t end = message.find(". "); end != message.npos; end = message.find(". ", from)) {
        out.push_back(message.substr(from, end + 1 - from));
        from = end + 2;
    }
    if (from < message.size())
        out.push_back(message.substr(from));
    return out;
}

static std::string joined(const std::vector<std::string> &sentences)
{
    std::string out;
    for (const auto &s : sentences)
        out += (out.empty() ? "" : " ") + s;
    return out;
}

CallOutWords callOutFor(const JobState &state, RowId frame)
{
    CallOutWords words;
    const auto *row = state.frame(frame);
    if (!row)
        return words;
    const auto &c = row->camera;
    std::string setup;
    for (const auto &s : state.setups)
        if (s.id == row->setup)
            setup = s.title;
    words.facts =
        fmt::format("{}, {}, f/{:g}\n{}, {}, {}", c.capturedAt.size() >= 19 ? c.capturedAt.substr(11, 8) : "",
                    exposureText(c.exposureSeconds), c.fNumber, setup, c.model, c.lens);
    const auto *reading = state.readingOf(frame);
    if (!reading)
        return words;
    std::vector<std::string> reasons;
    const auto take = [&](const Check &check) {
        auto sentences = sentencesOf(check.message);
        // What to do is for across the room; what is wrong is the reason. Glare has to say where first.
        if (check.id == "glare" || sentences.size() < 2) {
            words.headline = sentences.empty() ? "" : sentences.front();
            sentences.erase(sentences.begin(), sentences.begin() + (sentences.empty() ? 0 : 1));
        } else {
            words.headline = sentences.back();
            sentences.pop_back();
        }
        reasons.insert(reasons.end(), sentences.begin(), sentences.end());
    };
    for (const auto severity : {Severity::Stop, Severity::Warn})
        for (const auto &check : reading->reading.checks)
            if (check.severity == severity) {
                if (severity == Severity::Stop && words.headline.empty())
                    take(check);
                else
                    reasons.push_back(check.message);
            }
    if (words.headline.empty()) {
        const auto answer = answerOf(state, frame);
        words.good = answer.kind == AnswerKind::Good;
        words.headline = words.good ? "Good. " + answer.headline.substr(answer.headline.find("ΔE"))
                                    : answer.headline + ".";
        reasons.insert(reasons.begin(),
                       "Worst" + answer.reason.substr(std::min<size_t>(5, answer.reason.size())) + ".");
        for (const auto &check : reading->reading.checks)
            if (check.id == "evenness" && check.severity == Severity::Ok)
                reasons.push_back(check.message);
    }
    words.reason = joined(reasons);
    return words;
}

} // namespace wavechroma::app
