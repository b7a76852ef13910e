#pragma once
#include "core/values/setting_row.h"

#include <QWidget>
#include <functional>

class QLineEdit;

namespace wavechroma::app {

/// A widget for one setting: a box to tick, a choice, a number, a text. Its object name is the row's key.
class SettingEditor : public QWidget
{
    Q_OBJECT
public:
    SettingEditor(const Setting &row, const std::string &text);
    [[nodiscard]] std::string text() const { return m_text(); } ///< as SettingRow::put takes it

signals:
    void changed();

private:
    void makeSwitch(const Setting &row, const std::string &text);
    void makeChoice(const Setting &row, const std::string &text);
    void makeNumber(const Setting &row, const std::string &text);
    void makeAmount(const Setting &row, const std::string &text);
    void makeText(const Setting &row, const std::string &text);
    void addChooser(const Setting &row, QLineEdit *edit);

    std::function<std::string()> m_text;
};

/// The rows of a table as lines of a form.
template <class S> class SettingLines
{
public:
    SettingLines(const std::vector<SettingRow<S>> &rows, const S &settings,
                 const std::function<void(SettingEditor *, const Setting &)> &add)
    {
        for (const auto &row : rows) {
            auto *editor = new SettingEditor(row, row.text(row, settings));
            m_lines.push_back({&row, editor});
            add(editor, row);
        }
    }
    /// `settings` with what the lines say.
    [[nodiscard]] S read(S settings) const
    {
        for (const auto &line : m_lines)
            static_cast<void>(line.row->put(*line.row, settings, line.editor->text()));
        return settings;
    }
    /// Calls `show` with each line and whether it has a meaning beside the others.
    template <class Show> void forEach(const S &settings, Show &&show) const
    {
        for (const auto &line : m_lines)
            show(line.editor, !line.row->applies || line.row->applies(settings));
    }

private:
    struct Line
    {
        const SettingRow<S> *row;
        SettingEditor *editor;
    };
    std::vector<Line> m_lines;
};

} // namespace wavechroma::app
