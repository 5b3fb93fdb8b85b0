#include "app/panels/lua_editor.h"

// Its headers want the words that we switch off everywhere else.
#define signals Q_SIGNALS
#define slots Q_SLOTS
#include <Qsci/qsciapis.h>
#include <Qsci/qscilexerlua.h>
#include <Qsci/qsciscintilla.h>
#include <Qsci/qscistyle.h>
#undef signals
#undef slots

#include <QKeyEvent>
#include <QVBoxLayout>
#include <map>

#include "script/engine.h"

namespace app {

namespace {

constexpr int kErrorMark = 1;
constexpr int kErrorStyle = 60, kSaidStyle = 61;  // beyond the lexer's own

/// Lua, with our functions as a set of words of their own.
class Lexer : public QsciLexerLua {
  public:
    explicit Lexer(QObject* parent) : QsciLexerLua(parent) {
        for (const script::Function& f : script::functions())
            words_ += " " + QByteArray::fromStdString(f.name.starts_with("object:") ? f.name.substr(7) : f.name);
        words_ += " whole text switch angle colour vector ipairs pairs require print math string table utf8 vec";
    }
    const char* keywords(int set) const override { return set == 5 ? words_.constData() : QsciLexerLua::keywords(set); }

  private:
    QByteArray words_;
};

}  // namespace

LuaEditor::LuaEditor(QWidget* parent) : QWidget(parent), edit_(new QsciScintilla) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(edit_);
    setFocusProxy(edit_);
    edit_->setObjectName("scriptText");
    edit_->setAccessibleName(tr("The script’s text"));
    edit_->setUtf8(true);
    edit_->setFrameShape(QFrame::NoFrame);
    auto* lexer = new Lexer(edit_);
    edit_->setLexer(lexer);
    auto* apis = new QsciAPIs(lexer);
    for (const script::Function& f : script::functions()) {
        const std::string name = f.name.starts_with("object:") ? f.name.substr(7) : f.name;
        apis->add(QString::fromStdString(name + "(" + f.arguments + ") " + f.help));
    }
    apis->prepare();
    edit_->setAutoCompletionSource(QsciScintilla::AcsAPIs);
    edit_->setAutoCompletionThreshold(2);
    edit_->setAutoCompletionCaseSensitivity(true);
    edit_->setCallTipsStyle(QsciScintilla::CallTipsNoContext);
    edit_->setCallTipsVisible(1);
    edit_->setIndentationsUseTabs(false);
    edit_->setIndentationWidth(2);
    edit_->setTabWidth(2);
    edit_->setAutoIndent(true);
    edit_->setBraceMatching(QsciScintilla::SloppyBraceMatch);
    edit_->setMarginType(0, QsciScintilla::NumberMargin);
    edit_->setMarginWidth(0, "0000");
    edit_->setMarginWidth(1, 6);
    edit_->markerDefine(QsciScintilla::Background, kErrorMark);
    edit_->setAnnotationDisplay(QsciScintilla::AnnotationIndented);
    edit_->setScrollWidth(1);
    edit_->setScrollWidthTracking(true);
    // Tab leaves to the next field with Ctrl, as anywhere that takes tabs; Escape is the window's.
    edit_->SendScintilla(QsciScintilla::SCI_CLEARCMDKEY, QsciScintilla::SCK_ESCAPE);
    edit_->installEventFilter(this);
    connect(edit_, &QsciScintilla::textChanged, this, [this] {
        clearMarks();
        Q_EMIT changed();
    });
    connect(edit_, &QsciScintilla::modificationChanged, this, [this] { Q_EMIT changed(); });
}

bool LuaEditor::eventFilter(QObject* watched, QEvent* event) {
    // Return is a new line, also while words are offered: Tab takes one of them.
    if (watched == edit_ && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if ((key == Qt::Key_Return || key == Qt::Key_Enter) && edit_->isListActive()) edit_->cancelList();
    }
    return QWidget::eventFilter(watched, event);
}

QString LuaEditor::text() const {
    return edit_->text();
}
void LuaEditor::setText(const QString& text) {
    edit_->setText(text);
    edit_->setModified(false);
    clearMarks();
}
QString LuaEditor::selectedText() const {
    // Not by the library's own: it reads behind its end when several places are selected.
    const QByteArray all = edit_->text().toUtf8();
    const auto from = edit_->SendScintilla(QsciScintillaBase::SCI_GETSELECTIONSTART),
               to = edit_->SendScintilla(QsciScintillaBase::SCI_GETSELECTIONEND);
    return QString::fromUtf8(all.mid(static_cast<qsizetype>(from), static_cast<qsizetype>(to - from)));
}
bool LuaEditor::isChanged() const {
    return edit_->isModified();
}
void LuaEditor::setChanged(bool changed) {
    edit_->setModified(changed);
}
void LuaEditor::insert(const QString& text) {
    edit_->insert(text);
    int line = 0, column = 0;
    edit_->getCursorPosition(&line, &column);
    const QStringList lines = text.split('\n');
    edit_->setCursorPosition(line + static_cast<int>(lines.size()) - 1, lines.size() > 1
                                                                            ? static_cast<int>(lines.back().size())
                                                                            : column + static_cast<int>(text.size()));
}

void LuaEditor::annotate(int line, const QString& text, int style) {
    if (line < 1 || line > edit_->lines()) return;
    const QString had = edit_->annotation(line - 1);
    edit_->annotate(line - 1, had.isEmpty() ? text : had + "\n" + text, style);
}

void LuaEditor::showError(int line, const QString& message) {
    if (line < 1) return;
    edit_->markerAdd(line - 1, kErrorMark);
    annotate(line, message, kErrorStyle);
    edit_->ensureLineVisible(line - 1);
}

void LuaEditor::showSaid(const std::vector<script::Said>& said) {
    constexpr int kMostForALine = 3;
    std::map<int, int> seen;
    for (const script::Said& one : said) {
        const int n = ++seen[one.line];
        if (n <= kMostForALine) annotate(one.line, QStringLiteral("→ ") + QString::fromStdString(one.text), kSaidStyle);
        if (n == kMostForALine + 1) annotate(one.line, QStringLiteral("→ …"), kSaidStyle);
    }
}

void LuaEditor::clearMarks() {
    edit_->markerDeleteAll(kErrorMark);
    edit_->clearAnnotations();
}

void LuaEditor::goTo(int line) {
    if (line < 1) return;
    edit_->setCursorPosition(line - 1, 0);
    edit_->ensureLineVisible(line - 1);
}

int LuaEditor::line() const {
    int line = 0, column = 0;
    edit_->getCursorPosition(&line, &column);
    return line + 1;
}

void LuaEditor::setTheme(const Theme& t) {
    auto* lexer = qobject_cast<QsciLexerLua*>(edit_->lexer());
    QFont font("JetBrains Mono");
    font.setStyleHint(QFont::Monospace);
    font.setPointSizeF(9);  // it takes points only
    lexer->setDefaultFont(font);
    lexer->setDefaultColor(t.text);
    lexer->setDefaultPaper(t.window);
    for (int style = 0; style < 20; ++style) {
        lexer->setFont(font, style);
        lexer->setColor(t.text, style);
        lexer->setPaper(t.window, style);
    }
    for (const int style : {QsciLexerLua::Comment, QsciLexerLua::LineComment}) lexer->setColor(t.dim, style);
    for (const int style : {QsciLexerLua::String, QsciLexerLua::Character, QsciLexerLua::LiteralString})
        lexer->setColor(t.moss, style);
    lexer->setColor(t.rose, QsciLexerLua::UnclosedString);
    lexer->setColor(t.honey, QsciLexerLua::Number);
    lexer->setColor(t.lilac, QsciLexerLua::Keyword);
    for (const int style : {QsciLexerLua::BasicFunctions, QsciLexerLua::StringTableMathsFunctions,
                            QsciLexerLua::CoroutinesIOSystemFacilities, QsciLexerLua::KeywordSet5})
        lexer->setColor(t.axis[2], style);
    lexer->setColor(t.dim, QsciLexerLua::Operator);
    edit_->setPaper(t.window);
    edit_->setColor(t.text);
    edit_->setCaretForegroundColor(t.text);
    edit_->setCaretLineVisible(true);
    edit_->setCaretLineBackgroundColor(t.panel);
    edit_->setSelectionBackgroundColor(t.honeySoft);
    edit_->setSelectionForegroundColor(t.text);
    edit_->setMarginsFont(font);
    edit_->setMarginsBackgroundColor(t.window);
    edit_->setMarginsForegroundColor(t.faint);
    edit_->setMatchedBraceForegroundColor(t.honey);
    edit_->setMatchedBraceBackgroundColor(t.raised);
    edit_->setUnmatchedBraceForegroundColor(t.rose);
    edit_->setUnmatchedBraceBackgroundColor(t.window);
    QColor soft = t.rose;
    soft.setAlpha(60);
    edit_->setMarkerBackgroundColor(soft, kErrorMark);
    const std::pair<int, QColor> styles[] = {{kErrorStyle, t.rose}, {kSaidStyle, t.dim}};
    for (const auto& [style, colour] : styles) {
        edit_->SendScintilla(QsciScintilla::SCI_STYLESETFORE, static_cast<unsigned long>(style), colour);
        edit_->SendScintilla(QsciScintilla::SCI_STYLESETBACK, static_cast<unsigned long>(style), t.panel);
        edit_->SendScintilla(QsciScintilla::SCI_STYLESETFONT, static_cast<unsigned long>(style), "JetBrains Mono");
        edit_->SendScintilla(QsciScintilla::SCI_STYLESETSIZE, static_cast<unsigned long>(style), 8L);
    }
}

}  // namespace app
