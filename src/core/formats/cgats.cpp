#include "core/formats/calibration_tables.h"

#include "core/base/letters.h"
#include "core/base/number_text.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/names.h"
#include "core/formats/reference_rows.h"

#include <algorithm>
#include <clocale>
#include <cmath>
#include <lcms2.h>
#include <map>
#include <memory>
#include <sstream>

namespace wavechroma {

namespace {

/// lcms2 prints and parses numbers by the thread's locale; a table has a decimal point everywhere.
class PointLocale
{
public:
    PointLocale()
        : m_plain(newlocale(LC_NUMERIC_MASK, "C", duplocale(LC_GLOBAL_LOCALE))), m_before(uselocale(m_plain))
    {
    }
    ~PointLocale()
    {
        uselocale(m_before);
        freelocale(m_plain);
    }
    PointLocale(const PointLocale &) = delete;
    PointLocale &operator=(const PointLocale &) = delete;

private:
    locale_t m_plain, m_before;
};

/// lcms2 tells what is wrong through its context; we keep the first message, which has the line.
struct Cgats
{
    PointLocale locale;
    std::string fault;
    cmsContext context = nullptr;
    cmsHANDLE handle = nullptr;

    Cgats()
    {
        context = cmsCreateContext(nullptr, this);
        cmsSetLogErrorHandlerTHR(context, [](cmsContext where, cmsUInt32Number, const char *text) {
            auto *self = static_cast<Cgats *>(cmsGetContextUserData(where));
            if (self && self->fault.empty())
                self->fault = text;
        });
    }
    ~Cgats()
    {
        if (handle)
            cmsIT8Free(handle);
        cmsDeleteContext(context);
    }
    Cgats(const Cgats &) = delete;
    Cgats &operator=(const Cgats &) = delete;
};

class Reader
{
public:
    Reader(cmsHANDLE handle, std::string name) : m_handle(handle), m_name(std::move(name))
    {
        char **names = nullptr;
        const int count = cmsIT8EnumDataFormat(handle, &names);
        for (int i = 0; i < count; ++i) {
            const std::string column = names && names[i] ? names[i] : "";
            if (!m_columns.emplace(column, i).second && m_twice.empty())
                m_twice = column;
        }
        for (const auto &[column, index] : m_columns)
            if (const auto nm = spectralNm(column))
                m_spectral[*nm] = index;
    }

    /// Of the columns that may name patches, the one that names most of the chart's: instruments number their
    /// samples and have the names beside.
    [[nodiscard]] std::optional<int> idColumn(const ChartDefinition &chart) const
    {
        const int rows = int(cmsIT8GetPropertyDbl(m_handle, "NUMBER_OF_SETS"));
        std::optional<int> best;
        int most = -1;
        for (const char *name : {"SAMPLE_NAME", "SAMPLE_ID", "SAMPLE_LOC", "SAMPLEID"}) {
            const auto at = m_columns.find(name);
            int hits = 0;
            for (int row = 0; at != m_columns.end() && row < rows; ++row)
                if (const char *id = cmsIT8GetDataRowCol(m_handle, row, at->second))
                    hits += chart.patch(plainPatchId(id)) != nullptr;
            if (at != m_columns.end() && hits > most) {
                most = hits;
                best = at->second;
            }
        }
        return best;
    }

    Result<ReferenceRows> patches(const ChartDefinition &chart, const ReferenceHeading &heading) const
    {
        if (!m_twice.empty())
            return unusable("{file}: has two columns {column}; rename one, or leave it out",
                            {{"file", m_name}, {"column", m_twice}});
        const auto ids = idColumn(chart);
        if (!ids)
            return unusable("{file}: has no SAMPLE_ID column", {{"file", m_name}});
        const int rows = int(cmsIT8GetPropertyDbl(m_handle, "NUMBER_OF_SETS"));
        ReferenceRows out(m_name);
        out.setHeading(heading, hasAll(kLab));
        for (int row = 0; row < rows; ++row) {
            const char *id = cmsIT8GetDataRowCol(m_handle, row, *ids);
            if (!id || !*id)
                return unusable("{file}: data set {set} has no id",
                                {{"file", m_name}, {"set", double(row + 1)}});
            auto patch = patchAt(row, id);
            if (!patch)
                return patch.error();
            std::optional<Xyz> beside;
            if (hasAll(kLab) && hasAll(kXyz)) {
                const auto v = triple(row, kXyz, id);
                if (!v)
                    return v.error();
                beside = {(*v)[0] / 100, (*v)[1] / 100, (*v)[2] / 100};
            }
            if (const auto added = out.add(id, *patch, 0, beside); !added)
                return added.error();
        }
        return out;
    }

private:
    using Triple = std::array<const char *, 3>;
    static constexpr Triple kLab{"LAB_L", "LAB_A", "LAB_B"}, kXyz{"XYZ_X", "XYZ_Y", "XYZ_Z"};

    [[nodiscard]] bool hasAll(const Triple &names) const
    {
        return std::all_of(names.begin(), names.end(), [&](const char *n) { return m_columns.count(n) > 0; });
    }

    static std::optional<double> spectralNm(const std::string &column)
    {
        for (const char *prefix : {"SPECTRAL_NM", "SPECTRAL_", "NM"})
            if (column.rfind(prefix, 0) == 0) {
                const auto rest = column.substr(std::string(prefix).size());
                const auto digits = rest.substr(std::min(rest.size(), rest.find_first_not_of('_')));
                if (!digits.empty() && std::all_of(digits.begin(), digits.end(), letters::isDigit))
                    return numberFrom(digits);
            }
        return std::nullopt;
    }

public:
    /// The numbers of named columns, after the first one's text.
    template <size_t N>
    Result<std::vector<std::pair<std::string, std::vector<double>>>>
    rows(const char *const (&columns)[N]) const
    {
        std::vector<std::pair<std::string, std::vector<double>>> out;
        const int sets = int(cmsIT8GetPropertyDbl(m_handle, "NUMBER_OF_SETS"));
        for (int row = 0; row < sets; ++row) {
            const char *id = cmsIT8GetDataRowCol(m_handle, row, 0);
            out.emplace_back(id ? id : "", std::vector<double>());
            for (size_t i = 1; i < N; ++i) {
                const auto at = m_columns.find(columns[i]);
                const auto value =
                    at == m_columns.end()
                        ? Result<double>(internalError("{file}: has no column {column}",
                                                       {{"file", m_name}, {"column", columns[i]}}))
                        : number(row, columns[i], at->second, out.back().first.c_str());
                if (!value)
                    return value.error();
                out.back().second.push_back(*value);
            }
        }
        return out;
    }

private:
    Result<double> number(int row, const std::string &column, int index, const char *id) const
    {
        const char *text = cmsIT8GetDataRowCol(m_handle, row, index);
        const auto value = text ? numberFrom(text) : std::nullopt;
        if (!value)
            return unusable(
                "{file}: sample {patch}: {column} is \"{text}\", not a number",
                {{"file", m_name}, {"patch", id}, {"column", column}, {"text", text ? text : ""}});
        return *value;
    }

    Result<Vector3> triple(int row, const std::array<const char *, 3> &columns, const char *id) const
    {
        Vector3 out{};
        for (size_t i = 0; i < 3; ++i) {
            const auto value = number(row, columns[i], m_columns.at(columns[i]), id);
            if (!value)
                return value.error();
            out[i] = *value;
        }
        return out;
    }

    Result<ChartPatch> spectralPatch(int row, const char *id) const
    {
        Spectrum s;
        s.startNm = m_spectral.begin()->first;
        s.stepNm = std::next(m_spectral.begin())->first - s.startNm;
        for (const auto &[nm, index] : m_spectral) {
            if (std::abs(nm - (s.startNm + s.stepNm * double(s.values.size()))) > 0.01)
                return unusable("{file}: its wavelengths are not evenly spaced at {nm:g} nm",
                                {{"file", m_name}, {"nm", nm}});
            const auto value = number(row, "the spectrum", index, id);
            if (!value)
                return value.error();
            s.values.push_back(*value);
        }
        ChartPatch patch;
        patch.reflectance = s;
        return patch;
    }

    Result<ChartPatch> patchAt(int row, const char *id) const
    {
        ChartPatch patch;
        if (hasAll(kLab)) {
            const auto v = triple(row, kLab, id);
            if (!v)
                return v.error();
            if (const auto fault = labFault((*v)[0], (*v)[1], (*v)[2]); !fault.empty())
                return unusable("{file}: sample {patch}: {reason}",
                                {{"file", m_name}, {"patch", id}, {"reason", fault}});
            patch.reference = xyzFromLab({(*v)[0], (*v)[1], (*v)[2]});
        } else if (hasAll(kXyz)) {
            const auto v = triple(row, kXyz, id);
            if (!v)
                return v.error();
            if (const auto fault = xyzFault((*v)[0], (*v)[1], (*v)[2]); !fault.empty())
                return unusable("{file}: sample {patch}: {reason}",
                                {{"file", m_name}, {"patch", id}, {"reason", fault}});
            patch.reference = {(*v)[0] / 100, (*v)[1] / 100, (*v)[2] / 100};
        } else if (m_spectral.size() >= 4) {
            return spectralPatch(row, id);
        } else {
            return unusable(
                "{file}: has neither LAB_L, LAB_A, LAB_B nor XYZ_X, XYZ_Y, XYZ_Z nor SPECTRAL_NM columns",
                {{"file", m_name}});
        }
        return patch;
    }

    cmsHANDLE m_handle;
    std::string m_name;
    std::map<std::string, int> m_columns;
    std::string m_twice; ///< a column's name that is there again
    std::map<double, int> m_spectral;
};

} // namespace

static const char *const kColumns[] = {"SAMPLE_ID",    "RGB_R",        "RGB_G",        "RGB_B",      "XYZ_X",
                                       "XYZ_Y",        "XYZ_Z",        "LAB_L",        "LAB_A",      "LAB_B",
                                       "RESULT_LAB_L", "RESULT_LAB_A", "RESULT_LAB_B", "LAB_DE_2000"};

std::vector<double> cgatsRow(const Calibration &c, const FittedPatch &p)
{
    const Lab lab = labFromXyz(p.reference), got = labFromXyz(xyzFromCamera(c, p.rgb));
    return {255 * p.rgb.r,
            255 * p.rgb.g,
            255 * p.rgb.b,
            100 * p.reference.x,
            100 * p.reference.y,
            100 * p.reference.z,
            lab.l,
            lab.a,
            lab.b,
            got.l,
            got.a,
            got.b,
            de2000(got, lab)};
}

Result<std::string> cgatsOf(const Calibration &c)
{
    constexpr size_t kMostPatches = 32766; // of the library's tables
    if (c.patches.size() > kMostPatches)
        return unusable(
            "{patches} patches are too many for a CGATS.17 table ({most} at most). Write them as CSV",
            {{"patches", double(c.patches.size())}, {"most", double(kMostPatches)}});
    Cgats table;
    table.handle = cmsIT8Alloc(table.context);
    if (!table.handle)
        return internalError("lcms2 has no memory for a table");
    cmsHANDLE h = table.handle;
    cmsIT8SetSheetType(h, "CGATS.17");
    cmsIT8SetPropertyStr(h, "ORIGINATOR", c.madeWith.c_str());
    cmsIT8SetPropertyStr(h, "DESCRIPTOR", c.name.c_str());
    cmsIT8SetComment(h, provenanceOf(c).c_str());
    // general readers take RGB as codes of 0 to 255
    cmsIT8SetComment(
        h, "RGB_R, RGB_G, RGB_B: linear camera RGB before white balance, 0 black to 255 saturation");
    cmsIT8SetPropertyStr(h, "INSTRUMENTATION",
                         (c.camera.make + " " + c.camera.model + ", " + c.camera.lens).c_str());
    cmsIT8SetPropertyDbl(h, "NUMBER_OF_FIELDS", double(std::size(kColumns)));
    cmsIT8SetPropertyDbl(h, "NUMBER_OF_SETS", double(c.patches.size()));
    for (int i = 0; i < int(std::size(kColumns)); ++i)
        cmsIT8SetDataFormat(h, i, kColumns[i]);
    bool isWhole = true;
    for (size_t row = 0; row < c.patches.size(); ++row) {
        const auto &p = c.patches[row];
        const auto values = cgatsRow(c, p);
        isWhole = isWhole && cmsIT8SetDataRowCol(h, int(row), 0, p.id.c_str());
        for (int i = 0; i < int(values.size()); ++i)
            isWhole = isWhole && cmsIT8SetDataRowColDbl(h, int(row), i + 1, values[size_t(i)]);
    }
    if (!isWhole)
        return unusable("A CGATS.17 table of {patches} patches cannot be written: {why}",
                        {{"patches", double(c.patches.size())},
                         {"why", table.fault.empty() ? "no memory" : table.fault}});
    cmsUInt32Number size = 0;
    if (!cmsIT8SaveToMem(h, nullptr, &size))
        return internalError("the CGATS table could not be measured");
    std::string text(size, '\0');
    if (!cmsIT8SaveToMem(h, text.data(), &size))
        return internalError("the CGATS table could not be made");
    text.erase(text.find_last_not_of('\0') + 1);
    return text;
}

/// CGATS.17 writes its keywords in capitals; people and spreadsheets do not always. What does not stand in
/// data gets them: the first word of a line, and all words of the format of the data.
static std::string withCapitalKeywords(const std::string &text)
{
    std::string out;
    std::istringstream in(text);
    bool isData = false, isFormat = false;
    for (std::string line; std::getline(in, line); out += line + "\n") {
        const auto from = line.find_first_not_of(" \t");
        const auto to = from == line.npos ? from : std::min(line.find_first_of(" \t", from), line.size());
        const auto word = from == line.npos ? "" : letters::upper(line.substr(from, to - from));
        if (isData && word != "END_DATA")
            continue;
        if (isFormat && word.find_first_of("#\"") == word.npos)
            line = letters::upper(line);
        else if (!word.empty() && word.find_first_of("#\"") == word.npos)
            line.replace(from, word.size(), word);
        isFormat = word == "BEGIN_DATA_FORMAT" || (isFormat && word != "END_DATA_FORMAT");
        isData = word == "BEGIN_DATA";
    }
    return out;
}

/// Decimal commas between the data's digits become points; texts in quotes and the heading stay.
static std::string withDecimalPoints(std::string text)
{
    bool quoted = false;
    for (size_t at = text.find("BEGIN_DATA\n"); at < text.size(); ++at) {
        quoted = quoted != (text[at] == '"');
        if (text[at] == ',' && !quoted && letters::isDigit(uint8_t(text[at - 1])) && at + 1 < text.size() &&
            letters::isDigit(uint8_t(text[at + 1])))
            text[at] = '.';
    }
    return text;
}

/// Where the last heading of the file ends: a file may hold several tables, each with its own.
static size_t headingEnd(const std::string &text)
{
    size_t longest = 0, total = 0, from = 0;
    for (size_t data = text.find("BEGIN_DATA\n"); data != text.npos; data = text.find("BEGIN_DATA\n", from)) {
        total += data - from;
        longest = data;
        const auto end = text.find("END_DATA\n", data);
        if (end == text.npos)
            break;
        from = end;
    }
    return longest == 0 ? text.size() : std::min(longest, total);
}

/// Loads a table and hands it to `read`.
template <class T, class Read>
static Result<T> readCgats(const std::string &asWritten, const std::string &name, Read &&read)
{
    const auto text = withCapitalKeywords(asWritten);
    // lcms2 asserts rather than refuses when there is next to nothing, and reads text up to its first zero
    if (text.size() < 8 || text.find('\0') != text.npos)
        return unusable("{file}: is not CGATS text", {{"file", name}});
    if (text.find(".INCLUDE") != text.npos || text.find(".include") != text.npos) // which opens other files
        return unusable("{file}: refers to another file. Give one table without references to others",
                        {{"file", name}});
    if (text.find("BEGIN_DATA_FORMAT") == text.npos || text.find("BEGIN_DATA") == text.npos)
        return unusable("{file}: is CGATS text without data or their format", {{"file", name}});
    // lcms2 looks each keyword up among all before it, and each cell's column by its name
    constexpr size_t kMostText = 16 << 20, kMostHeadingLines = 2000;
    if (text.size() > kMostText || size_t(std::count(text.begin(), text.begin() + ptrdiff_t(headingEnd(text)),
                                                     '\n')) > kMostHeadingLines)
        return unusable("{file}: is too large for a table of references", {{"file", name}});
    Cgats table;
    const auto plain = withDecimalPoints(text);
    table.handle = cmsIT8LoadFromMem(table.context, plain.data(), cmsUInt32Number(plain.size()));
    if (!table.handle)
        return unusable("{file}: is not CGATS text: {why}",
                        {{"file", name}, {"why", table.fault.empty() ? "no table in it" : table.fault}});
    return read(Reader(table.handle, name));
}

Result<ChartDefinition> withCgatsReferences(const ChartDefinition &chart, const std::string &text,
                                            const std::string &name, TableReading *how)
{
    const auto heading = headingOf(text, true, name);
    if (!heading)
        return heading.error();
    return readCgats<ChartDefinition>(text, name, [&](const Reader &reader) -> Result<ChartDefinition> {
        const auto patches = reader.patches(chart, *heading);
        if (patches && how)
            *how = patches->reading();
        return patches ? patches->putInto(chart) : patches.error();
    });
}

Result<std::vector<std::pair<std::string, Xyz>>> cgatsColours(const std::string &text,
                                                              const std::string &name, TableReading *how)
{
    using Colours = std::vector<std::pair<std::string, Xyz>>;
    const auto heading = headingOf(text, true, name);
    if (!heading)
        return heading.error();
    return readCgats<Colours>(text, name, [&](const Reader &reader) -> Result<Colours> {
        auto patches = reader.patches(ChartDefinition(), *heading);
        if (!patches)
            return patches.error();
        patches->setPerCent();
        if (how)
            *how = patches->reading();
        return patches->colours();
    });
}

Result<std::vector<std::pair<std::string, std::vector<double>>>> cgatsNumbers(const std::string &text,
                                                                              const std::string &name)
{
    using Rows = std::vector<std::pair<std::string, std::vector<double>>>;
    return readCgats<Rows>(text, name, [](const Reader &reader) { return reader.rows(kColumns); });
}

} // namespace wavechroma
