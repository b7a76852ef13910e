#include "core/raw/frame_message.h"

#include "core/base/said.h"
#include "core/base/shown_text.h"
#include "core/color/code_curve.h"

#include <cmath>
#include <cstring>
#include <nlohmann/json.hpp>
#include <stdexcept>

namespace wavechroma::raw {

using nlohmann::json;

namespace {

constexpr int kMostSide = 100'000;

/// Stops where values lie in each other without end, which the reader of CBOR follows one call deeper each.
class NotTooDeep : public nlohmann::json_sax<json>
{
public:
    bool null() override { return true; }
    bool boolean(bool) override { return true; }
    bool number_integer(json::number_integer_t) override { return true; }
    bool number_unsigned(json::number_unsigned_t) override { return true; }
    bool number_float(json::number_float_t, const json::string_t &) override { return true; }
    bool string(json::string_t &) override { return true; }
    bool binary(json::binary_t &) override { return true; }
    bool key(json::string_t &) override { return true; }
    bool start_object(size_t) override { return deeper(); }
    bool start_array(size_t) override { return deeper(); }
    bool end_object() override { return --m_depth >= 0; }
    bool end_array() override { return --m_depth >= 0; }
    bool parse_error(size_t, const std::string &, const nlohmann::detail::exception &) override
    {
        return false;
    }

private:
    bool deeper() { return ++m_depth <= 32; }
    int m_depth = 0;
};

/// Thrown for what no frame has, as the library throws for what is of another kind.
struct NoFrame : std::runtime_error
{
    using std::runtime_error::runtime_error;
};

double numberOf(const json &j)
{
    const double value = j.get<double>();
    if (!std::isfinite(value))
        throw NoFrame("a number that is not finite");
    return value;
}

int wholeOf(const json &j, int least, int most)
{
    if (!j.is_number_integer() || j.get<int64_t>() < least || j.get<int64_t>() > most ||
        (j.is_number_unsigned() && j.get<uint64_t>() > uint64_t(most)))
        throw NoFrame("a number out of its range");
    return j.get<int>();
}

json jsonOf(const words::Phrase &phrase)
{
    auto places = json::array();
    for (const auto &place : phrase.places) {
        json value;
        if (const auto *number = std::get_if<double>(&place.value))
            value = *number;
        else if (const auto *text = std::get_if<std::string>(&place.value))
            value = *text;
        else
            value = jsonOf(std::get<words::Phrase>(place.value));
        places.push_back({place.name, std::move(value)});
    }
    return {{"text", phrase.text}, {"places", std::move(places)}};
}

words::Phrase phraseOf(const json &j)
{
    words::Phrase out(j.at("text").get<std::string>());
    for (const auto &place : j.at("places")) {
        const auto &value = place.at(1);
        words::Value v = value.is_number()   ? words::Value(value.get<double>())
                         : value.is_string() ? words::Value(value.get<std::string>())
                                             : words::Value(phraseOf(value));
        out.places.push_back({place.at(0).get<std::string>(), std::move(v)});
    }
    return out;
}

json jsonOf(const Matrix3 &m)
{
    auto out = json::array();
    for (int i = 0; i < 9; ++i)
        out.push_back(m(i / 3, i % 3));
    return out;
}

Matrix3 matrixOf(const json &j)
{
    Matrix3 out;
    for (int i = 0; i < 9; ++i)
        out(i / 3, i % 3) = numberOf(j.at(size_t(i)));
    return out;
}

json jsonOf(const CameraFacts &c)
{
    return {c.make,
            c.model,
            c.serial,
            c.lens,
            c.iso,
            c.exposureSeconds,
            c.fNumber,
            c.capturedAt,
            c.uniqueModel,
            c.focalMm,
            c.balancesItself ? int(*c.balancesItself) : -1,
            int(c.isRendered)};
}

CameraFacts cameraOf(const json &j)
{
    CameraFacts c;
    j.at(0).get_to(c.make);
    j.at(1).get_to(c.model);
    j.at(2).get_to(c.serial);
    j.at(3).get_to(c.lens);
    c.iso = numberOf(j.at(4));
    c.exposureSeconds = numberOf(j.at(5));
    c.fNumber = numberOf(j.at(6));
    j.at(7).get_to(c.capturedAt);
    j.at(8).get_to(c.uniqueModel);
    c.focalMm = numberOf(j.at(9));
    if (const int balance = wholeOf(j.at(10), -1, 1); balance >= 0)
        c.balancesItself = balance == 1;
    c.isRendered = wholeOf(j.at(11), 0, 1) == 1;
    return c;
}

json jsonOf(const FileColor &color)
{
    auto matrices = json::array();
    for (const auto &m : color.matrices)
        matrices.push_back({jsonOf(m.cameraFromXyz), m.illuminantCode});
    return {matrices, color.asShotNeutral ? json(*color.asShotNeutral) : json(),
            color.xyzD50FromRendered ? jsonOf(*color.xyzD50FromRendered) : json(), color.renderedCodes};
}

FileColor fileColorOf(const json &j)
{
    FileColor out;
    for (const auto &m : j.at(0))
        out.matrices.push_back({matrixOf(m.at(0)), wholeOf(m.at(1), 0, 65535)});
    if (!j.at(1).is_null())
        out.asShotNeutral =
            Vector3{numberOf(j.at(1).at(0)), numberOf(j.at(1).at(1)), numberOf(j.at(1).at(2))};
    if (!j.at(2).is_null())
        out.xyzD50FromRendered = matrixOf(j.at(2));
    for (const auto &curve : j.at(3)) {
        auto &to = out.renderedCodes.emplace_back();
        for (const auto &code : curve)
            to.push_back(numberOf(code));
        if (!isCodeCurve(to))
            throw NoFrame("a curve of codes that is none");
    }
    return out;
}

json jsonOf(const std::vector<float> &table)
{
    std::vector<uint8_t> bytes(table.size() * sizeof(float));
    std::memcpy(bytes.data(), table.data(), bytes.size());
    return json::binary(std::move(bytes));
}

std::vector<float> tableOf(const json &j)
{
    const auto &bytes = j.get_binary();
    std::vector<float> out(bytes.size() / sizeof(float));
    std::memcpy(out.data(), bytes.data(), out.size() * sizeof(float));
    for (const float value : out)
        if (!std::isfinite(value))
            throw NoFrame("a table with a number that is none");
    return out;
}

/// `first`: of the visible area, in samples where they have memory of their own, else in bytes of the file.
json jsonOf(const Mosaic &m, std::span<const uint8_t> file)
{
    const auto first = m.memory.empty() ? reinterpret_cast<const uint8_t *>(m.samples) - file.data()
                                        : m.samples - m.memory.data();
    return {{"first", int64_t(first)},          {"stride", int64_t(m.rowStride)},
            {"period", {m.periodX, m.periodY}}, {"channel", json::binary(m.channel)},
            {"black", jsonOf(m.black)},         {"white", m.white},
            {"library", m.isOfLibrary}};
}

/// Does the visible area lie within so many samples?
bool isWithin(uint64_t first, uint64_t stride, int width, int height, uint64_t count)
{
    if (stride < uint64_t(width) || stride > count || first > count)
        return false;
    const uint64_t last = first + stride * uint64_t(height - 1) + uint64_t(width);
    return last <= count;
}

std::shared_ptr<const Mosaic> mosaicOf(const json &j, const Samples &samples, const MappedFile &file,
                                       int width, int height)
{
    auto m = std::make_shared<Mosaic>();
    if (!j.at("first").is_number_unsigned() || !j.at("stride").is_number_unsigned())
        return nullptr;
    const auto first = j.at("first").get<uint64_t>(), stride = j.at("stride").get<uint64_t>();
    m->memory = samples;
    m->rowStride = ptrdiff_t(stride);
    m->periodX = wholeOf(j.at("period").at(0), 1, 16);
    m->periodY = wholeOf(j.at("period").at(1), 1, 16);
    m->channel = j.at("channel").get_binary();
    m->black = tableOf(j.at("black"));
    m->white = float(numberOf(j.at("white")));
    m->isOfLibrary = j.at("library").get<bool>();
    const auto cells = size_t(m->periodX) * size_t(m->periodY);
    bool isSound = m->channel.size() == cells && m->black.size() == cells;
    for (const auto c : m->channel)
        isSound = isSound && c <= 2;
    for (const auto b : m->black)
        isSound = isSound && b < m->white;
    for (const uint8_t c : {0, 1, 2})
        isSound = isSound && std::find(m->channel.begin(), m->channel.end(), c) != m->channel.end();
    const auto bytes = file.bytes();
    const bool isInFile = samples.empty();
    if (!isSound || (isInFile && (first % sizeof(uint16_t) != 0 || first > bytes.size())))
        return nullptr;
    const bool lies = isInFile ? isWithin(first / 2, stride, width, height, bytes.size() / 2)
                               : isWithin(first, stride, width, height, samples.size());
    if (!lies)
        return nullptr;
    m->samples = isInFile ? reinterpret_cast<const uint16_t *>(bytes.data() + first) : samples.data() + first;
    return m;
}

/// Only of a file's own gains, which have no source.
json jsonOf(const GainMap &map)
{
    return {{"points", {map.columns, map.rows}},
            {"gain", {jsonOf(map.gain[0]), jsonOf(map.gain[1]), jsonOf(map.gain[2])}}};
}

std::shared_ptr<const GainMap> gainMapOf(const json &j, int width, int height)
{
    constexpr int kMostPoints = 1000;
    auto out = std::make_shared<GainMap>();
    out->width = width;
    out->height = height;
    out->columns = wholeOf(j.at("points").at(0), 2, kMostPoints);
    out->rows = wholeOf(j.at("points").at(1), 2, kMostPoints);
    for (size_t c = 0; c < 3; ++c) {
        out->gain[c] = tableOf(j.at("gain").at(c));
        if (out->gain[c].size() != size_t(out->columns) * size_t(out->rows))
            throw NoFrame(words::said("a gain map of another size"));
    }
    return out;
}

json jsonOf(const LinearPicture &p)
{
    return {{"channels", p.channels},
            {"light", {jsonOf(p.light[0]), jsonOf(p.light[1]), jsonOf(p.light[2])}},
            {"saturation", p.saturation}};
}

std::shared_ptr<const LinearPicture> pictureOf(const json &j, const Samples &samples, int width, int height)
{
    auto p = std::make_shared<LinearPicture>();
    p->channels = size_t(wholeOf(j.at("channels"), 1, 3));
    p->codes = samples;
    p->saturation = float(numberOf(j.at("saturation")));
    if (p->channels == 2 || samples.size() < size_t(width) * size_t(height) * p->channels)
        return nullptr;
    for (size_t c = 0; c < 3; ++c) {
        p->light[c] = tableOf(j.at("light").at(c));
        if (p->light[c].empty())
            return nullptr;
        p->light[c].resize(65536, p->light[c].back()); // whatever code comes, there is light for it
    }
    return p;
}

} // namespace

FrameMessage messageOf(const Result<RawFrame> &frame, std::span<const uint8_t> file)
{
    if (!frame) {
        const auto &error = frame.error();
        return {json::to_cbor({{"why", jsonOf(error.phrase)}, {"internal", error.fault == Fault::Internal}}),
                {}};
    }
    json j{{"camera", jsonOf(frame->camera)},       {"color", jsonOf(frame->fileColor)},
           {"size", {frame->width, frame->height}}, {"orientation", frame->orientation},
           {"rendered", frame->rendered},           {"assumed", frame->assumedSpace}};
    if (frame->fileGain)
        j["gain"] = jsonOf(*frame->fileGain);
    if (frame->mosaic)
        j["mosaic"] = jsonOf(*frame->mosaic, file);
    else
        j["picture"] = jsonOf(*frame->picture);
    return {json::to_cbor(j), frame->mosaic ? frame->mosaic->memory : frame->picture->codes};
}

std::optional<Result<RawFrame>> frameOf(const FrameMessage &message,
                                        const std::shared_ptr<const MappedFile> &file)
{
    try {
        NotTooDeep check;
        if (message.facts.size() > kMostFacts ||
            !json::sax_parse(message.facts, &check, json::input_format_t::cbor))
            return std::nullopt;
        const auto j = json::from_cbor(message.facts);
        if (j.contains("why"))
            return j.at("internal").get<bool>() ? internalError(phraseOf(j.at("why")))
                                                : unusable(phraseOf(j.at("why")));
        RawFrame frame;
        frame.camera = cameraOf(j.at("camera"));
        frame.fileColor = fileColorOf(j.at("color"));
        frame.width = wholeOf(j.at("size").at(0), 1, kMostSide);
        frame.height = wholeOf(j.at("size").at(1), 1, kMostSide);
        if (size_t(frame.width) * size_t(frame.height) > kMostPixels)
            return std::nullopt;
        for (auto *text :
             {&frame.camera.make, &frame.camera.model, &frame.camera.uniqueModel, &frame.camera.serial,
              &frame.camera.lens, &frame.camera.capturedAt, &frame.assumedSpace})
            *text = oneLine(*text); // what a reader says of them goes into documents and names
        frame.orientation = wholeOf(j.at("orientation"), 1, 8);
        frame.rendered = j.at("rendered").get<bool>();
        frame.assumedSpace = j.at("assumed").get<std::string>();
        if (j.contains("gain"))
            frame.fileGain = gainMapOf(j.at("gain"), frame.width, frame.height);
        if (j.contains("mosaic"))
            frame.mosaic = mosaicOf(j.at("mosaic"), message.samples, *file, frame.width, frame.height);
        else
            frame.picture = pictureOf(j.at("picture"), message.samples, frame.width, frame.height);
        if (!frame.mosaic && !frame.picture)
            return std::nullopt;
        if (frame.mosaic && message.samples.empty())
            frame.memory = file;
        return frame;
    } catch (const json::exception &) {
        return std::nullopt;
    } catch (const NoFrame &) {
        return std::nullopt;
    }
}

} // namespace wavechroma::raw
