#include "core/words/setting_words.h"

#include "core/base/filled.h"

namespace wavechroma::words {

namespace {

/// Empty where it goes without saying.
template <class S>
std::string summaryOf(const SettingRow<S> &row, const S &settings, const Language &language)
{
    const auto text = row.text(row, settings);
    const bool isAlways = row.key == std::string_view("format") || row.key == std::string_view("space");
    const bool isWorthIt = row.brief && (isAlways || text != row.text(row, S()));
    if (!isWorthIt)
        return {};
    Places places;
    for (const auto &choice : row.choices)
        if (text == choice.id)
            places.push_back({"choice", said(choice.said, language)});
    if (const auto number = numberFrom(text))
        places.push_back({"n", *number});
    return filled(row.brief, places, language);
}

template <class S>
void addSummaries(std::vector<std::string> &to, const std::vector<SettingRow<S>> &rows, const S &settings,
                  const Language &language)
{
    for (const auto &row : rows)
        if (auto one = summaryOf(row, settings, language); !one.empty())
            to.push_back(std::move(one));
}

} // namespace

std::string said(const char *text, const Language &language)
{
    return filled(text, {}, language);
}

std::string summary(const DeliveryForm &form, const Language &language)
{
    std::vector<std::string> out;
    if (form.kind == FormKind::Picture) {
        addSummaries(out, pictureSettings(), form.picture, language);
    } else if (form.kind == FormKind::Profile) {
        for (const auto file : form.profile.files)
            out.push_back(said(profileFiles()[size_t(file)].label, language));
    } else {
        out.push_back(said(kFormKinds[size_t(form.kind)].label, language));
    }
    addSummaries(out, formColourSettings(), form.colour, language);
    addSummaries(out, formLeanSettings(), form.colour, language);
    if (form.colour.multipliers)
        out.push_back(filled("a white balance of its own", {}, language));
    return joined(out, ", ");
}

} // namespace wavechroma::words
