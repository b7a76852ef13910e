#pragma once
#include "core/base/result.h"
#include "core/figures/figure.h"
#include "core/formats/whole_file.h"

#include <memory>
#include <string>
#include <variant>
#include <vector>

/// A paper that is read from the first page to the last, described once for every form that it is written in.
/// All text is text: nothing in it is markup.
namespace wavechroma {

struct Heading
{
    int level = 1; ///< 1…3; those of 1 and 2 are bookmarks
    std::string text;
    bool onNewPage = false;
};
struct Paragraph
{
    enum class Kind { Plain, Lead, Note, Boxed };
    std::string text;
    Kind kind = Kind::Plain;
};
struct TableColumn
{
    std::string title;
    double share = 1; ///< of the width, against the others
    bool isRight = false;
};
struct ReportTable
{
    std::vector<TableColumn> columns;
    std::vector<std::vector<std::string>> rows;
    std::vector<size_t> boldRows = {};
};
struct ReportFigures
{
    std::vector<Figure> figures; ///< side by side
    std::string caption;
};
struct ReportPicture
{
    std::shared_ptr<const Bytes> jpeg;
    int width = 0, height = 0; ///< pixels
    double shownWidth = 200;   ///< points
    std::vector<Shape> marks;  ///< laid over it, in shown points
    std::string caption;
};
/// Pictures side by side, two of them at most; each with its caption below.
struct ReportPictures
{
    std::vector<ReportPicture> pictures;
};
using ReportBlock = std::variant<Heading, Paragraph, ReportTable, ReportFigures, ReportPictures>;

enum class Paper { A4, Letter };

struct Report
{
    std::string title, date; ///< date as people read it; at the head of each page
    std::string madeAt;      ///< ISO 8601, into the file's own facts
    std::string madeWith;
    std::string foot; ///< on the right of each page's foot
    Paper paper = Paper::A4;
    std::vector<ReportBlock> blocks;
};

/// Width that blocks have on a page, in points.
[[nodiscard]] double textWidth(Paper paper);

/// PDF 1.5 by cairo and pango: vector figures, text that can be selected, Inter embedded in parts, tagged in
/// the order of reading, with bookmarks and with a text for each figure. The same report gives the same
/// bytes. Tables go on over a page with their head repeated, figures and pictures stay whole, paragraphs
/// break between lines. Letters that Inter has not come from the system's fonts. Internal on a fault of the
/// libraries.
[[nodiscard]] Result<Bytes> pdfOf(const Report &report);
/// One page of HTML with nothing beside it: figures are SVG, pictures and the letters used are data.
[[nodiscard]] std::string htmlOf(const Report &report);

} // namespace wavechroma
