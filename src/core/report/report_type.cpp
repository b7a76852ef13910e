#include "core/report/report_type.h"

#include "core/report/inter_fonts.h"

#include <cstdlib>
#include <fontconfig/fontconfig.h>
#include <fstream>
#include <numbers>
#include <pango/pangofc-fontmap.h>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

/// Fontconfig reads files alone, so the typeface lies in a folder of its own for as long as it is used.
Result<fs::path> fontFolder()
{
    std::error_code fault;
    auto name = (fs::temp_directory_path(fault) / "wavechroma-XXXXXX").string();
    if (fault || !mkdtemp(name.data()))
        return unusable("{folder}: cannot be written to; the report's typeface has to lie there meanwhile",
                        {{"folder", fs::temp_directory_path(fault).string()}});
    int number = 0;
    for (const auto &font : interFonts()) {
        std::ofstream out(fs::path(name) / (std::to_string(number++) + ".otf"), std::ios::binary);
        out.write(font.data(), std::streamsize(font.size()));
        if (!out.flush())
            return unusable("{folder}: is full; the report's typeface has to lie there meanwhile",
                            {{"folder", name}});
    }
    return fs::path(name);
}

void setInk(cairo_t *page, const Ink &ink)
{
    const auto rgb = srgbCodesOf(ink);
    cairo_set_source_rgb(page, rgb[0], rgb[1], rgb[2]);
}

void draw(cairo_t *page, const Box &box)
{
    setInk(page, box.fill);
    cairo_rectangle(page, box.x, box.y, box.width, box.height);
    cairo_fill(page);
}

void draw(cairo_t *page, const Disc &disc)
{
    cairo_new_sub_path(page);
    cairo_arc(page, disc.x, disc.y, disc.radius, 0, 2 * std::numbers::pi);
    setInk(page, disc.fill);
    if (!disc.line) {
        cairo_fill(page);
        return;
    }
    cairo_fill_preserve(page);
    setInk(page, *disc.line);
    cairo_set_line_width(page, 0.4);
    cairo_stroke(page);
}

void draw(cairo_t *page, const Stroke &stroke)
{
    if (stroke.points.size() < 2)
        return;
    cairo_move_to(page, stroke.points[0].x, stroke.points[0].y);
    for (const auto &point : stroke.points)
        cairo_line_to(page, point.x, point.y);
    setInk(page, stroke.ink);
    cairo_set_line_width(page, stroke.width);
    const double dashes[] = {3, 2};
    cairo_set_dash(page, dashes, stroke.isDashed ? 2 : 0, 0);
    cairo_stroke(page);
    cairo_set_dash(page, dashes, 0, 0);
}

} // namespace

Result<std::unique_ptr<ReportType>> ReportType::load()
{
    const auto folder = fontFolder();
    if (!folder)
        return folder.error();
    std::unique_ptr<ReportType> out(new ReportType);
    out->m_folder = *folder;
    FcConfig *config = FcInitLoadConfigAndFonts();
    const auto name = folder->string();
    FcConfigAppFontAddDir(config, reinterpret_cast<const FcChar8 *>(name.c_str()));
    out->m_fonts = pango_cairo_font_map_new_for_font_type(CAIRO_FONT_TYPE_FT);
    pango_fc_font_map_set_config(PANGO_FC_FONT_MAP(out->m_fonts), config);
    FcConfigDestroy(config); // the map has its own reference
    return out;
}

ReportType::~ReportType()
{
    if (m_fonts)
        g_object_unref(m_fonts);
    std::error_code ignored;
    fs::remove_all(m_folder, ignored);
}

ReportType::Layout ReportType::set(cairo_t *page, const std::string &text, const TypeStyle &style,
                                   double width, PangoAlignment alignment) const
{
    PangoContext *context = pango_font_map_create_context(m_fonts);
    pango_cairo_update_context(page, context);
    pango_cairo_context_set_resolution(context, 72);
    Layout out(pango_layout_new(context));
    g_object_unref(context);
    PangoFontDescription *font = pango_font_description_new();
    pango_font_description_set_family_static(font, "Inter");
    pango_font_description_set_weight(font, PangoWeight(style.weight));
    pango_font_description_set_absolute_size(font, style.size * PANGO_SCALE);
    pango_layout_set_font_description(out.get(), font);
    pango_font_description_free(font);
    pango_layout_set_text(out.get(), text.c_str(), int(text.size()));
    pango_layout_set_alignment(out.get(), alignment);
    pango_layout_set_wrap(out.get(), PANGO_WRAP_WORD_CHAR);
    // a hash or a path that is broken gets no hyphen, which would read as one of its letters
    PangoAttrList *attributes = pango_attr_list_new();
    pango_attr_list_insert(attributes, pango_attr_insert_hyphens_new(FALSE));
    pango_layout_set_attributes(out.get(), attributes);
    pango_attr_list_unref(attributes);
    pango_layout_set_line_spacing(out.get(), 1.25F);
    if (width > 0)
        pango_layout_set_width(out.get(), int(width * PANGO_SCALE));
    return out;
}

void ReportType::paint(cairo_t *page, const std::vector<Shape> &shapes, double x, double y) const
{
    cairo_save(page);
    cairo_translate(page, x, y);
    for (const auto &shape : shapes) {
        if (const auto *label = std::get_if<Label>(&shape)) {
            const auto layout = set(page, label->text, {label->size, label->isBold ? 600 : 400, 0}, 0);
            int width = 0;
            pango_layout_get_size(layout.get(), &width, nullptr);
            const double wide = double(width) / PANGO_SCALE, back = label->from == Label::From::Left ? 0
                                                                    : label->from == Label::From::Middle
                                                                        ? wide / 2
                                                                        : wide;
            setInk(page, label->ink);
            cairo_move_to(page, label->x - back,
                          label->y - double(pango_layout_get_baseline(layout.get())) / PANGO_SCALE);
            pango_cairo_show_layout(page, layout.get());
        } else if (const auto *box = std::get_if<Box>(&shape)) {
            draw(page, *box);
        } else if (const auto *disc = std::get_if<Disc>(&shape)) {
            draw(page, *disc);
        } else {
            draw(page, std::get<Stroke>(shape));
        }
    }
    cairo_restore(page);
}

} // namespace wavechroma
