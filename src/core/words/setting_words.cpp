#include "core/words/setting_words.h"

#include "core/base/filled.h"

namespace wavechroma::words {

namespace {

/// Empty where it goes without saying.
std::string summaryOf(const SettingRow<PictureSettings> &row, const PictureSettings &settings,
                      const Language &language)
{
    const auto text = row.text(row, settings);
    const bool isAlways = row.key == std::string_view("format") || row.key == std::string_view("space");
    const bool isWorthIt = row.brief && (isAlways || text != row.text(row, PictureSettings()));
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

} // namespace

std::string said(const char *text, const Language &language)
{
    return filled(text, {}, language);
}

std::string summary(const DeliveryForm &form, const Language &language)
{
    std::vector<std::string> out;
    if (form.kind == FormKind::Picture) {
        for (const auto &row : pictureSettings())
            if (auto one = summaryOf(row, form.picture, language); !one.empty())
                out.push_back(std::move(one));
    } else if (form.kind == FormKind::Profile) {
        for (const auto file : form.profile.files)
            out.push_back(said(profileFiles()[size_t(file)].label, language));
    } else {
        out.push_back(said(kFormKinds[size_t(form.kind)].label, language));
    }
    return joined(out, ", ");
}

} // namespace wavechroma::words
