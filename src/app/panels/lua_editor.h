#pragma once
// A text with Lua in it, in our colours: completion of our functions with their help, errors marked at their line,
// and what was said shown under the line that said it.
#include <QWidget>
#include <vector>

#include "app/look/theme.h"
#include "script/said.h"

class QsciScintilla;

namespace app {

class LuaEditor : public QWidget {
    Q_OBJECT
  public:
    explicit LuaEditor(QWidget* parent = nullptr);
    QString text() const;
    void setText(const QString& text);
    QString selectedText() const;
    bool isChanged() const;
    void setChanged(bool changed);
    void insert(const QString& text);
    /// Lines count from 1; 0 goes nowhere.
    void showError(int line, const QString& message);
    void showSaid(const std::vector<script::Said>& said);
    void clearMarks();
    void setTheme(const Theme& theme);
    void goTo(int line);
    /// Of the line the cursor is in, from 1.
    int line() const;

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  Q_SIGNALS:
    void changed();

  private:
    void annotate(int line, const QString& text, int style);
    QsciScintilla* edit_;
};

}  // namespace app
