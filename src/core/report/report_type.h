#pragma once
#include "core/base/result.h"
#include "core/figures/figure.h"

#include <cairo.h>
#include <filesystem>
#include <memory>
#include <pango/pangocairo.h>

/// Text on a cairo page, set by pango in Inter; not for other folders.
namespace wavechroma {

struct TypeStyle
{
    double size = 9.5; ///< points
    int weight = 400;
    double grey = 0.04;
};

/// Inter for pango, from files that are there as long as this is.
class ReportType
{
public:
    [[nodiscard]] static Result<std::unique_ptr<ReportType>> load();
    ~ReportType();
    ReportType(const ReportType &) = delete;
    ReportType &operator=(const ReportType &) = delete;

    struct Unref
    {
        void operator()(void *object) const { g_object_unref(object); }
    };
    using Layout = std::unique_ptr<PangoLayout, Unref>;
    /// Text wrapped to a width in points; 0: not wrapped.
    [[nodiscard]] Layout set(cairo_t *page, const std::string &text, const TypeStyle &style, double width,
                             PangoAlignment alignment = PANGO_ALIGN_LEFT) const;
    /// Shapes with their upper left corner at a place of the page.
    void paint(cairo_t *page, const std::vector<Shape> &shapes, double x, double y) const;

private:
    ReportType() = default;
    std::filesystem::path m_folder;
    PangoFontMap *m_fonts = nullptr;
};

} // namespace wavechroma
