#include "core/formats/cxf.h"

#include "core/base/letters.h"
#include "core/base/number_text.h"
#include "core/base/said.h"
#include "core/color/lab.h"
#include "core/formats/reference_rows.h"

#include <algorithm>
#include <cstring>
#include <map>
#include <pugixml.hpp>
#include <sstream>

namespace wavechroma {

namespace {

constexpr size_t kMostValues = 1000; ///< of a spectrum: a nanometre apart from 300 to 1300

/// The name without its prefix, which each writer chooses.
const char *localName(const pugi::xml_node &node)
{
    const char *colon = std::strchr(node.name(), ':');
    return colon ? colon + 1 : node.name();
}

std::vector<pugi::xml_node> childrenOf(const pugi::xml_node &node, const char *name)
{
    std::vector<pugi::xml_node> out;
    for (const auto &child : node.children())
        if (std::strcmp(localName(child), name) == 0)
            out.push_back(child);
    return out;
}

pugi::xml_node child(const pugi::xml_node &node, const char *name)
{
    const auto all = childrenOf(node, name);
    return all.empty() ? pugi::xml_node() : all.front();
}

std::string trimmed(const char *text)
{
    std::string out(text);
    const auto first = out.find_first_not_of(" \t\r\n"), last = out.find_last_not_of(" \t\r\n");
    return first == out.npos ? std::string() : out.substr(first, last - first + 1);
}

/// What a ColorSpecification says.
struct Specification
{
    ReferenceHeading heading;
    double startNm = 0, stepNm = 0;
};

class CxfDocument
{
public:
    explicit CxfDocument(std::string name) : m_name(std::move(name)) {}

    Result<Done> parse(const std::string &text)
    {
        const auto parsed = m_xml.load_buffer(text.data(), text.size());
        if (!parsed)
            return unusable(
                "{file}, line {line}: is broken XML: {reason}",
                {{"file", m_name},
                 {"line",
                  double(1 + std::count(text.begin(),
                                        text.begin() +
                                            ptrdiff_t(std::min<size_t>(
                                                size_t(std::max<ptrdiff_t>(0, parsed.offset)), text.size())),
                                        '\n'))},
                 {"reason", std::string(parsed.description())}});
        for (const auto &node : m_xml.children())
            if (std::strcmp(localName(node), "CxF") == 0)
                m_resources = child(node, "Resources");
        if (!m_resources)
            return unusable("{file}: has no CxF element with Resources, so it is no CxF3 document",
                            {{"file", m_name}});
        return readSpecifications();
    }

    Result<ReferenceRows> rows()
    {
        const auto objects = objectsWithColours();
        if (objects.empty())
            return unusable("{file}: has no object with colour values", {{"file", m_name}});
        const auto kind = commonKind(objects);
        if (!kind)
            return unusable("{file}: its objects have no kind of value in common (ReflectanceSpectrum, "
                            "ColorCIELab or ColorCIEXYZ)",
                            {{"file", m_name}});
        ReferenceRows out(m_name);
        std::optional<ReferenceHeading> heading;
        for (const auto &[id, values] : objects) {
            auto patch = patchOf(id, values, *kind);
            if (!patch)
                return patch.error();
            const auto of = headingOf(id, child(values, *kind));
            if (!of)
                return of.error();
            if (heading &&
                (heading->illuminant != of->illuminant || heading->observerDegrees != of->observerDegrees))
                return unusable("{file}: object {object}: its colours are for another light or observer "
                                "than those before",
                                {{"file", m_name}, {"object", id}});
            heading = *of;
            if (const auto added = out.add(id, *patch, 0); !added)
                return added.error();
        }
        if (std::strcmp(*kind, kXyz) == 0)
            out.setPerCent();
        if (std::strcmp(*kind, kSpectrum) != 0)
            out.setHeading(*heading, std::strcmp(*kind, kLab) == 0);
        return out;
    }

private:
    static constexpr const char *kSpectrum = "ReflectanceSpectrum", *kLab = "ColorCIELab",
                                *kXyz = "ColorCIEXYZ";
    using Object = std::pair<std::string, pugi::xml_node>;

    Error fault(const std::string &object, words::Phrase reason) const
    {
        return unusable("{file}: object {object}: {reason}",
                        {{"file", m_name}, {"object", object}, {"reason", std::move(reason)}});
    }

    Result<Done> readSpecifications()
    {
        for (const auto &one :
             childrenOf(child(m_resources, "ColorSpecificationCollection"), "ColorSpecification")) {
            Specification out;
            const auto tristimulus = child(one, "TristimulusSpec");
            out.heading.illuminant = trimmed(child(tristimulus, "Illuminant").child_value());
            const auto observer = trimmed(child(tristimulus, "Observer").child_value());
            if (observer == "2_Degree" || observer == "10_Degree")
                out.heading.observerDegrees = observer[0] == '2' ? 2 : 10;
            else if (!observer.empty())
                return unusable("{file}: Observer is \"{text}\", neither 2_Degree nor 10_Degree",
                                {{"file", m_name}, {"text", observer}});
            const auto range = child(child(one, "MeasurementSpec"), "WavelengthRange");
            out.startNm = range.attribute("StartWL").as_double();
            out.stepNm = range.attribute("Increment").as_double();
            m_specifications[one.attribute("Id").value()] = out;
        }
        return Done{};
    }

    std::vector<Object> objectsWithColours() const
    {
        std::vector<Object> out;
        for (const auto &object : childrenOf(child(m_resources, "ObjectCollection"), "Object")) {
            const auto values = child(object, "ColorValues");
            const auto name = trimmed(object.attribute("Name").value());
            if (values)
                out.emplace_back(name.empty() ? trimmed(object.attribute("Id").value()) : name, values);
        }
        return out;
    }

    static std::optional<const char *> commonKind(const std::vector<Object> &objects)
    {
        for (const char *kind : {kSpectrum, kLab, kXyz})
            if (std::all_of(objects.begin(), objects.end(),
                            [kind](const Object &o) { return bool(child(o.second, kind)); }))
                return kind;
        return {};
    }

    Result<const Specification *> specificationOf(const std::string &id, const pugi::xml_node &value) const
    {
        static const Specification kNone;
        const std::string asked = value.attribute("ColorSpecification").value();
        if (asked.empty())
            return &kNone;
        const auto found = m_specifications.find(asked);
        if (found == m_specifications.end())
            return fault(
                id, {words::said("ColorSpecification \"{text}\" is not in the document"), {{"text", asked}}});
        return &found->second;
    }

    Result<ReferenceHeading> headingOf(const std::string &id, const pugi::xml_node &value) const
    {
        const auto specification = specificationOf(id, value);
        return specification ? Result<ReferenceHeading>((*specification)->heading) : specification.error();
    }

    Result<double> numberOf(const std::string &id, const pugi::xml_node &value, const char *field) const
    {
        const auto text = trimmed(child(value, field).child_value());
        const auto number = numberFrom(text);
        if (!number)
            return fault(id, {words::said("{field} of {kind} is \"{text}\", which is no number"),
                              {{"field", field}, {"kind", localName(value)}, {"text", text}}});
        return *number;
    }

    Result<Vector3> tripleOf(const std::string &id, const pugi::xml_node &value,
                             const std::array<const char *, 3> &fields) const
    {
        Vector3 out{};
        for (size_t i = 0; i < 3; ++i) {
            const auto number = numberOf(id, value, fields[i]);
            if (!number)
                return number.error();
            out[i] = *number;
        }
        return out;
    }

    Result<ChartPatch> patchOf(const std::string &id, const pugi::xml_node &values, const char *kind) const
    {
        if (childrenOf(values, kind).size() > 1)
            return fault(id,
                         {words::said("has {kind} more than once; keep the one to use"), {{"kind", kind}}});
        const auto value = child(values, kind);
        if (std::strcmp(kind, kSpectrum) == 0)
            return spectrumOf(id, value);
        const bool isLab = std::strcmp(kind, kLab) == 0;
        const auto v = isLab ? tripleOf(id, value, {"L", "A", "B"}) : tripleOf(id, value, {"X", "Y", "Z"});
        if (!v)
            return v.error();
        const auto wrong = isLab ? labFault((*v)[0], (*v)[1], (*v)[2]) : xyzFault((*v)[0], (*v)[1], (*v)[2]);
        if (!wrong.empty())
            return fault(id, wrong);
        ChartPatch out;
        out.reference = isLab ? xyzFromLab({(*v)[0], (*v)[1], (*v)[2]})
                              : Xyz{(*v)[0] / 100, (*v)[1] / 100, (*v)[2] / 100};
        return out;
    }

    Result<ChartPatch> spectrumOf(const std::string &id, const pugi::xml_node &value) const
    {
        const auto specification = specificationOf(id, value);
        if (!specification)
            return specification.error();
        Spectrum out;
        out.startNm = value.attribute("StartWL").as_double((*specification)->startNm);
        out.stepNm = value.attribute("Increment").as_double((*specification)->stepNm);
        if (!(out.startNm >= 200 && out.startNm <= 1000))
            return fault(id,
                         {words::said("StartWL {nm:g} nm is no wavelength of light"), {{"nm", out.startNm}}});
        if (!(out.stepNm >= 1 && out.stepNm <= 50))
            return fault(id,
                         {words::said("Increment {nm:g} nm is no step of a spectrum"), {{"nm", out.stepNm}}});
        std::istringstream numbers(value.child_value());
        for (std::string word; numbers >> word;) {
            const auto number = numberFrom(word);
            if (!number || out.values.size() >= kMostValues)
                return fault(id, {words::said("ReflectanceSpectrum holds \"{text}\", which is no number, or "
                                              "too many"),
                                  {{"text", word}}});
            out.values.push_back(*number);
        }
        constexpr size_t kFewest = 10;
        if (out.values.size() < kFewest)
            return fault(id, {words::said("ReflectanceSpectrum has {n:0} values, too few to tell a colour"),
                              {{"n", double(out.values.size())}}});
        ChartPatch patch;
        patch.reflectance = std::move(out);
        return patch;
    }

    std::string m_name;
    pugi::xml_document m_xml;
    pugi::xml_node m_resources;
    std::map<std::string, Specification> m_specifications;
};

Result<ReferenceRows> rowsOfCxf(const std::string &text, const std::string &name)
{
    CxfDocument document(name);
    if (const auto parsed = document.parse(text); !parsed)
        return parsed.error();
    return document.rows();
}

} // namespace

bool isCxf(const std::string &text)
{
    const auto first = text.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    return first != text.npos && text[first] == '<' && text.find("CxF") != text.npos;
}

Result<ChartDefinition> withCxfReferences(const ChartDefinition &chart, const std::string &text,
                                          const std::string &name, TableReading *how)
{
    const auto rows = rowsOfCxf(text, name);
    if (!rows)
        return rows.error();
    if (how)
        *how = rows->reading();
    return rows->putInto(chart);
}

Result<std::vector<std::pair<std::string, Xyz>>> cxfColours(const std::string &text, const std::string &name,
                                                            TableReading *how)
{
    const auto rows = rowsOfCxf(text, name);
    if (!rows)
        return rows.error();
    if (how)
        *how = rows->reading();
    return rows->colours();
}

} // namespace wavechroma
