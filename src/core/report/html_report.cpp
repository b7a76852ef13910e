#include "core/report/base64.h"
#include "core/report/html_fonts.h"
#include "core/report/report.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace wavechroma {

namespace {

std::string escaped(const std::string &text)
{
    std::string out;
    for (const char c : text)
        switch (c) {
        case '&':
            out += "&amp;";
            break;
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '"':
            out += "&quot;";
            break;
        default:
            out += c;
        }
    return out;
}

std::string colour(const Ink &ink)
{
    const auto rgb = srgbCodesOf(ink);
    return fmt::format("#{:02x}{:02x}{:02x}", int(std::lround(255 * rgb[0])), int(std::lround(255 * rgb[1])),
                       int(std::lround(255 * rgb[2])));
}

std::string svg(const Shape &shape)
{
    if (const auto *box = std::get_if<Box>(&shape))
        return fmt::format(R"(<rect x="{:.2f}" y="{:.2f}" width="{:.2f}" height="{:.2f}" fill="{}"/>)",
                           box->x, box->y, box->width, box->height, colour(box->fill));
    if (const auto *disc = std::get_if<Disc>(&shape))
        return fmt::format(R"(<circle cx="{:.2f}" cy="{:.2f}" r="{:.2f}" fill="{}"{}/>)", disc->x, disc->y,
                           disc->radius, colour(disc->fill),
                           disc->line ? fmt::format(R"( stroke="{}" stroke-width="0.4")", colour(*disc->line))
                                      : "");
    if (const auto *stroke = std::get_if<Stroke>(&shape)) {
        std::string points;
        for (const auto &point : stroke->points)
            points += fmt::format("{:.2f},{:.2f} ", point.x, point.y);
        return fmt::format(R"(<polyline points="{}" fill="none" stroke="{}" stroke-width="{:.2f}"{}/>)",
                           points, colour(stroke->ink), stroke->width,
                           stroke->isDashed ? R"( stroke-dasharray="3 2")" : "");
    }
    const auto &label = std::get<Label>(shape);
    constexpr const char *kAnchors[] = {"start", "middle", "end"};
    return fmt::format(
        R"(<text x="{:.2f}" y="{:.2f}" font-size="{:.1f}" font-weight="{}" text-anchor="{}" fill="{}">{}</text>)",
        label.x, label.y, label.size, label.isBold ? 600 : 400, kAnchors[size_t(label.from)],
        colour(label.ink), escaped(label.text));
}

std::string svg(const std::vector<Shape> &shapes, double width, double height, const std::string &said)
{
    auto out = fmt::format(
        R"(<svg viewBox="0 0 {0:.1f} {1:.1f}" width="{0:.1f}" height="{1:.1f}" role="img" aria-label="{2}">)",
        width, height, escaped(said));
    for (const auto &shape : shapes)
        out += svg(shape);
    return out + "</svg>";
}

std::string html(const Heading &heading)
{
    return fmt::format("<h{0}>{1}</h{0}>\n", heading.level, escaped(heading.text));
}

std::string html(const Paragraph &paragraph)
{
    constexpr const char *kClasses[] = {"plain", "lead", "note", "boxed"};
    return fmt::format("<p class=\"{}\">{}</p>\n", kClasses[size_t(paragraph.kind)], escaped(paragraph.text));
}

std::string caption(const std::string &text)
{
    return text.empty() ? "" : "<figcaption>" + escaped(text) + "</figcaption>";
}

std::string html(const ReportTable &table)
{
    const auto cell = [&](size_t column, const char *tag, const std::string &text) {
        return fmt::format("<{0}{1}>{2}</{0}>", tag, table.columns[column].isRight ? " class=\"right\"" : "",
                           escaped(text));
    };
    std::string out = "<table><thead><tr>";
    for (size_t i = 0; i < table.columns.size(); ++i)
        out += cell(i, "th", table.columns[i].title);
    out += "</tr></thead><tbody>\n";
    for (size_t k = 0; k < table.rows.size(); ++k) {
        const bool isBold =
            std::find(table.boldRows.begin(), table.boldRows.end(), k) != table.boldRows.end();
        out += isBold ? "<tr class=\"bold\">" : "<tr>";
        for (size_t i = 0; i < table.columns.size(); ++i)
            out += cell(i, "td", i < table.rows[k].size() ? table.rows[k][i] : "");
        out += "</tr>\n";
    }
    return out + "</tbody></table>\n";
}

std::string html(const ReportFigures &figures)
{
    std::string out = "<figure>";
    for (const auto &figure : figures.figures)
        out += svg(figure.shapes, figure.width, figure.height, figure.said);
    return out + caption(figures.caption) + "</figure>\n";
}

std::string pictureHtml(const ReportPicture &picture)
{
    if (!picture.jpeg || picture.width < 1)
        return {};
    const double height = picture.shownWidth * picture.height / picture.width;
    return fmt::format("<figure><div class=\"picture\" style=\"width:{:.1f}px\"><img alt=\"\" "
                       "src=\"data:image/jpeg;base64,{}\">{}</div>{}</figure>\n",
                       picture.shownWidth,
                       base64({reinterpret_cast<const char *>(picture.jpeg->data()), picture.jpeg->size()}),
                       svg(picture.marks, picture.shownWidth, height, ""), caption(picture.caption));
}

std::string html(const ReportPictures &row)
{
    std::string out = "<div class=\"row\">";
    for (const auto &picture : row.pictures)
        out += pictureHtml(picture);
    return out + "</div>\n";
}

constexpr const char *kStyle = R"(
body{font:14px/1.5 Inter,system-ui,sans-serif;color:#0b0b0b;background:#fff;max-width:760px;margin:32px auto;padding:0 20px}
h1{font-size:34px;line-height:1.15;margin:40px 0 8px}h2{font-size:20px;margin:36px 0 6px}h3{font-size:15px;margin:20px 0 4px}
.lead{font-size:17px}.note,figcaption{font-size:12px;color:#4d4d4d}.boxed{background:#ebebeb;padding:10px 14px}
table{border-collapse:collapse;width:100%;font-size:13px;font-variant-numeric:tabular-nums}
th{text-align:left;font-size:12px}th,td{border-bottom:1px solid #b3b3b3;padding:3px 6px;vertical-align:top;overflow-wrap:anywhere}
.right{text-align:right}.bold td{font-weight:600}figure{margin:10px 0}svg{margin-right:18px;max-width:100%;height:auto}
.row{display:flex;gap:18px}.picture{position:relative}.picture img{width:100%;display:block}.picture svg{position:absolute;left:0;top:0;margin:0}
)";

} // namespace

std::string htmlOf(const Report &report)
{
    std::string body =
        fmt::format("<p class=\"note\">{}, {}</p>\n", escaped(report.title), escaped(report.date));
    for (const auto &block : report.blocks)
        std::visit([&body](const auto &one) { body += html(one); }, block);
    body += "<p class=\"note\">" + escaped(report.foot) + "</p>\n";
    return fmt::format("<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>{}</title>"
                       "<meta name=\"generator\" content=\"{}\"><style>\n{}{}</style></head><body>\n{}"
                       "</body></html>\n",
                       escaped(report.title), escaped(report.madeWith), fontFacesFor(body), kStyle, body);
}

} // namespace wavechroma
