#include "core/report/pdf_marks.h"
#include "core/report/report.h"
#include "core/report/report_type.h"

#include <algorithm>
#include <cairo-pdf.h>
#include <fmt/format.h>

namespace wavechroma {

namespace {

constexpr double kMargin = 48, kHeadRoom = 34, kFootRoom = 34;

struct Size
{
    double width, height;
};
Size sizeOf(Paper paper)
{
    return paper == Paper::A4 ? Size{595.276, 841.89} : Size{612, 792};
}

double heightOf(const ReportType::Layout &layout)
{
    int height = 0;
    pango_layout_get_size(layout.get(), nullptr, &height);
    return double(height) / PANGO_SCALE;
}

TypeStyle styleOf(const Heading &heading)
{
    constexpr TypeStyle kStyles[] = {{24, 700}, {14, 600}, {10.5, 600}};
    return kStyles[size_t(std::clamp(heading.level, 1, 3) - 1)];
}

TypeStyle styleOf(Paragraph::Kind kind)
{
    if (kind == Paragraph::Kind::Lead)
        return {11.5, 400};
    return kind == Paragraph::Kind::Note ? TypeStyle{8, 400, 0.3} : TypeStyle{};
}

bool isShown(const ReportPicture &picture)
{
    return picture.jpeg && picture.width > 0 && picture.height > 0;
}

/// Writes a report page by page onto a surface.
class Pages
{
public:
    Pages(const Report &report, const ReportType &type, cairo_surface_t *surface, int told)
        : m_report(report), m_type(type), m_surface(surface), m_page(cairo_create(surface)), m_told(told),
          m_size(sizeOf(report.paper))
    {
        begin();
    }
    ~Pages() { cairo_destroy(m_page); }
    Pages(const Pages &) = delete;
    Pages &operator=(const Pages &) = delete;

    int write()
    {
        for (const auto &block : m_report.blocks)
            std::visit([this](const auto &one) { add(one); }, block);
        cairo_show_page(m_page);
        return m_number;
    }

private:
    [[nodiscard]] double width() const { return m_size.width - 2 * kMargin; }
    [[nodiscard]] double bottom() const { return m_size.height - kMargin - kFootRoom; }
    [[nodiscard]] bool isFresh() const { return m_y <= kMargin + kHeadRoom + 1; }

    void show(const ReportType::Layout &layout, double x, double y, double grey = 0.04)
    {
        cairo_set_source_rgb(m_page, grey, grey, grey);
        cairo_move_to(m_page, x, y);
        pango_cairo_show_layout(m_page, layout.get());
    }
    void rule(double y, double thickness, double grey = 0.04)
    {
        m_type.paint(m_page, {Stroke{{{kMargin, y}, {kMargin + width(), y}}, thickness, Ink{grey}, false}}, 0,
                     0);
    }
    template <class F> void tagged(const char *tag, F &&content)
    {
        cairo_tag_begin(m_page, tag, nullptr);
        content();
        cairo_tag_end(m_page, tag);
    }

    /// Head and foot stand outside the order of reading.
    void begin()
    {
        const TypeStyle small{8, 400};
        show(m_type.set(m_page, m_report.title, small, width() - 110), kMargin, kMargin - 14);
        show(m_type.set(m_page, m_report.date, small, width(), PANGO_ALIGN_RIGHT), kMargin, kMargin - 14);
        rule(kMargin + 4, 1);
        const double y = m_size.height - kMargin;
        rule(y - 16, 0.5);
        const auto number =
            m_told > 0 ? fmt::format("Page {} of {}", m_number, m_told) : std::to_string(m_number);
        show(m_type.set(m_page, number, small, width()), kMargin, y - 10);
        show(m_type.set(m_page, m_report.foot, small, width(), PANGO_ALIGN_RIGHT), kMargin, y - 10);
        m_y = kMargin + kHeadRoom;
    }
    void turn()
    {
        cairo_show_page(m_page);
        ++m_number;
        begin();
    }
    void make(double room)
    {
        if (m_y + room > bottom() && !isFresh())
            turn();
    }

    void add(const Heading &heading)
    {
        if (heading.onNewPage && !isFresh())
            turn();
        const auto style = styleOf(heading);
        const auto layout = m_type.set(m_page, heading.text, style, width());
        const double before = isFresh() ? 0 : heading.level == 1 ? 24 : heading.level == 2 ? 18 : 11;
        make(before + heightOf(layout) + 70); // with the beginning of what follows
        m_y += isFresh() ? 0 : before;
        if (heading.level < 3)
            m_parents[heading.level] = cairo_pdf_surface_add_outline(
                m_surface, heading.level == 1 ? CAIRO_PDF_OUTLINE_ROOT : m_parents[1], heading.text.c_str(),
                fmt::format("page={} pos=[{:.1f} {:.1f}]", m_number, kMargin, m_y).c_str(),
                CAIRO_PDF_OUTLINE_FLAG_OPEN);
        tagged(heading.level == 1   ? "H1"
               : heading.level == 2 ? "H2"
                                    : "H3",
               [&] { show(layout, kMargin, m_y, style.grey); });
        m_y += heightOf(layout) + (heading.level == 1 ? 8 : 5);
    }

    void add(const Paragraph &paragraph)
    {
        const auto style = styleOf(paragraph.kind);
        const bool isBoxed = paragraph.kind == Paragraph::Kind::Boxed;
        const double inset = isBoxed ? 10 : 0;
        const auto layout = m_type.set(m_page, paragraph.text, style, width() - 2 * inset);
        const double height = heightOf(layout);
        if (isBoxed) {
            make(height + 2 * inset + 8);
            m_type.paint(m_page, {Box{kMargin, m_y, width(), height + 2 * inset - 4, kBand}}, 0, 0);
            m_y += inset - 2;
        }
        addLines(layout, style, kMargin + inset);
        m_y += isBoxed ? inset + 4 : 6;
    }

    /// Line by line, so that long text goes on over the page.
    void addLines(const ReportType::Layout &layout, const TypeStyle &style, double x)
    {
        cairo_tag_begin(m_page, "P", nullptr);
        PangoLayoutIter *line = pango_layout_get_iter(layout.get());
        do {
            PangoRectangle box;
            pango_layout_iter_get_line_extents(line, nullptr, &box);
            int top = 0, end = 0;
            pango_layout_iter_get_line_yrange(line, &top, &end);
            const double height = double(end - top) / PANGO_SCALE;
            if (m_y + height > bottom() && !isFresh()) {
                cairo_tag_end(m_page, "P");
                turn();
                cairo_tag_begin(m_page, "P", nullptr);
            }
            cairo_set_source_rgb(m_page, style.grey, style.grey, style.grey);
            cairo_move_to(m_page, x + double(box.x) / PANGO_SCALE,
                          m_y + double(pango_layout_iter_get_baseline(line) - top) / PANGO_SCALE);
            pango_cairo_show_layout_line(m_page, pango_layout_iter_get_line_readonly(line));
            m_y += height;
        } while (pango_layout_iter_next_line(line));
        pango_layout_iter_free(line);
        cairo_tag_end(m_page, "P");
    }

    struct Cells
    {
        std::vector<ReportType::Layout> layouts;
        double height = 0;
    };
    Cells cellsOf(const ReportTable &table, const std::vector<std::string> &texts, const TypeStyle &style)
    {
        Cells out;
        for (size_t i = 0; i < table.columns.size(); ++i) {
            out.layouts.push_back(
                m_type.set(m_page, i < texts.size() ? texts[i] : "", style, columnWidth(table, i) - 6,
                           table.columns[i].isRight ? PANGO_ALIGN_RIGHT : PANGO_ALIGN_LEFT));
            out.height = std::max(out.height, heightOf(out.layouts.back()));
        }
        return out;
    }
    [[nodiscard]] double columnWidth(const ReportTable &table, size_t column) const
    {
        double whole = 0;
        for (const auto &one : table.columns)
            whole += one.share;
        return width() * table.columns[column].share / whole;
    }
    void addRow(const ReportTable &table, const Cells &cells, const char *tag)
    {
        double x = kMargin;
        tagged("TR", [&] {
            for (size_t i = 0; i < cells.layouts.size(); ++i) {
                tagged(tag, [&] { show(cells.layouts[i], x + 3, m_y + 3); });
                x += columnWidth(table, i);
            }
        });
        m_y += cells.height + 6;
        rule(m_y, 0.35, 0.7);
    }
    void add(const ReportTable &table)
    {
        std::vector<std::string> titles;
        for (const auto &column : table.columns)
            titles.push_back(column.title);
        const TypeStyle head{7.5, 600}, plain{8.5, 400}, bold{8.5, 600};
        const auto header = cellsOf(table, titles, head);
        bool isOpen = false;
        for (size_t i = 0; i < table.rows.size(); ++i) {
            const bool isBold = std::count(table.boldRows.begin(), table.boldRows.end(), i) > 0;
            const auto cells = cellsOf(table, table.rows[i], isBold ? bold : plain);
            const double room = cells.height + 6 + (isOpen ? 0 : header.height + 6);
            if (m_y + room > bottom() && !isFresh()) {
                if (isOpen)
                    cairo_tag_end(m_page, "Table");
                isOpen = false;
                turn();
            }
            if (!isOpen) {
                cairo_tag_begin(m_page, "Table", nullptr);
                addRow(table, header, "TH");
                isOpen = true;
            }
            addRow(table, cells, "TD");
        }
        if (isOpen)
            cairo_tag_end(m_page, "Table");
        m_y += 8;
    }

    void addCaption(const std::string &caption)
    {
        if (!caption.empty())
            add(Paragraph{caption, Paragraph::Kind::Note});
    }
    void add(const ReportFigures &figures)
    {
        constexpr double kGap = 18;
        double high = 0, wide = -kGap;
        for (const auto &figure : figures.figures) {
            high = std::max(high, figure.height);
            wide += figure.width + kGap;
        }
        const double room = bottom() - kMargin - kHeadRoom - 30,
                     scale = std::min({1., width() / std::max(1., wide), room / std::max(1., high)});
        make(scale * high + 26);
        tagged("Figure", [&] {
            cairo_save(m_page);
            cairo_translate(m_page, kMargin, m_y);
            cairo_scale(m_page, scale, scale);
            double x = 0;
            for (const auto &figure : figures.figures) {
                m_type.paint(m_page, figure.shapes, x, 0);
                x += figure.width + kGap;
            }
            cairo_restore(m_page);
        });
        m_y += scale * high + 6;
        addCaption(figures.caption);
    }

    void add(const ReportPictures &row)
    {
        constexpr double kGap = 18;
        const double room = bottom() - kMargin - kHeadRoom - 40;
        double high = 0, wide = -kGap;
        for (const auto &one : row.pictures) {
            high = std::max(high, one.shownWidth * one.height / std::max(1, one.width));
            wide += one.shownWidth + kGap;
        }
        const double fit = std::min({1., room / std::max(1., high), width() / std::max(1., wide)});
        std::vector<ReportType::Layout> captions;
        double below = 0;
        for (const auto &one : row.pictures) {
            captions.push_back(m_type.set(m_page, one.caption, styleOf(Paragraph::Kind::Note),
                                          std::max(60., fit * one.shownWidth)));
            below = std::max(below, one.caption.empty() ? 0 : heightOf(captions.back()));
        }
        make(fit * high + below + 14);
        double x = kMargin;
        for (size_t i = 0; i < row.pictures.size(); ++i) {
            const auto &one = row.pictures[i];
            if (!isShown(one))
                continue;
            tagged("Figure", [&] { paint(one, x, fit); });
            const double height = fit * one.shownWidth * one.height / one.width;
            if (!one.caption.empty())
                tagged("P", [&] { show(captions[i], x, m_y + height + 4, 0.3); });
            x += fit * one.shownWidth + kGap;
        }
        m_y += fit * high + below + 14;
    }
    void paint(const ReportPicture &picture, double x, double fit)
    {
        const double scale = picture.shownWidth / picture.width;
        cairo_surface_t *image = imageOf(picture);
        cairo_save(m_page);
        cairo_translate(m_page, x, m_y);
        cairo_scale(m_page, fit, fit);
        cairo_save(m_page);
        cairo_scale(m_page, scale, scale);
        cairo_set_source_surface(m_page, image, 0, 0);
        cairo_paint(m_page);
        cairo_restore(m_page);
        m_type.paint(m_page, picture.marks, 0, 0);
        cairo_restore(m_page);
        cairo_surface_destroy(image);
    }
    /// The file keeps the JPEG as it is; the surface's own pixels are never looked at.
    static cairo_surface_t *imageOf(const ReportPicture &picture)
    {
        cairo_surface_t *image =
            cairo_image_surface_create(CAIRO_FORMAT_RGB24, picture.width, picture.height);
        auto *kept = new std::shared_ptr<const Bytes>(picture.jpeg);
        const auto release = [](void *data) { delete static_cast<std::shared_ptr<const Bytes> *>(data); };
        if (cairo_surface_set_mime_data(image, CAIRO_MIME_TYPE_JPEG,
                                        reinterpret_cast<const unsigned char *>(picture.jpeg->data()),
                                        picture.jpeg->size(), release, kept) != CAIRO_STATUS_SUCCESS)
            release(kept);
        return image;
    }

    const Report &m_report;
    const ReportType &m_type;
    cairo_surface_t *m_surface;
    cairo_t *m_page;
    int m_told, m_number = 1;
    Size m_size;
    double m_y = 0;
    int m_parents[3] = {CAIRO_PDF_OUTLINE_ROOT, CAIRO_PDF_OUTLINE_ROOT, CAIRO_PDF_OUTLINE_ROOT};
};

void setFacts(cairo_surface_t *surface, const Report &report)
{
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_TITLE, report.title.c_str());
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATOR, report.madeWith.c_str());
    cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATE_DATE, report.madeAt.c_str());
}

Result<Bytes> written(const Report &report, const ReportType &type, int told, int &pages)
{
    Bytes out;
    const auto size = sizeOf(report.paper);
    cairo_surface_t *surface = cairo_pdf_surface_create_for_stream(
        [](void *to, const unsigned char *data, unsigned length) {
            auto &bytes = *static_cast<Bytes *>(to);
            bytes.insert(bytes.end(), data, data + length);
            return CAIRO_STATUS_SUCCESS;
        },
        &out, size.width, size.height);
    setFacts(surface, report);
    pages = Pages(report, type, surface, told).write();
    cairo_surface_finish(surface);
    const auto status = cairo_surface_status(surface);
    cairo_surface_destroy(surface);
    if (status != CAIRO_STATUS_SUCCESS)
        return unusable("the report could not be written: {reason}",
                        {{"reason", std::string(cairo_status_to_string(status))}});
    return out;
}

/// What each tagged figure shows, in the order in which they stand.
std::vector<std::string> figuresSaid(const Report &report)
{
    std::vector<std::string> out;
    for (const auto &block : report.blocks) {
        if (const auto *row = std::get_if<ReportFigures>(&block)) {
            std::string said;
            for (const auto &figure : row->figures)
                said += (said.empty() ? "" : "; ") + figure.said;
            out.push_back(said);
        } else if (const auto *pictures = std::get_if<ReportPictures>(&block)) {
            for (const auto &one : pictures->pictures)
                if (isShown(one))
                    out.push_back(one.caption);
        }
    }
    return out;
}

} // namespace

double textWidth(Paper paper)
{
    return sizeOf(paper).width - 2 * kMargin;
}

Result<Bytes> pdfOf(const Report &report)
{
    const auto type = ReportType::load();
    if (!type)
        return type.error();
    int pages = 0;
    // the first time counts them
    if (const auto counted = written(report, **type, 99, pages); !counted)
        return counted.error();
    const int told = pages;
    const auto pdf = written(report, **type, told, pages);
    return pdf ? markedAsTagged(*pdf, figuresSaid(report)) : pdf;
}

} // namespace wavechroma
