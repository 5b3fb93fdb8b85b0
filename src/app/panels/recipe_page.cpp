#include "app/panels/recipe_page.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QPointer>
#include <QScrollBar>
#include <QSplitter>
#include <QSyntaxHighlighter>
#include <QThreadPool>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/names.h"
#include "base/files.h"
#include "edit/delta.h"
#include "edit/session.h"
#include "hand/examples.h"
#include "hand/receiver.h"
#include "hand/take_in.h"
#include "io/json_text.h"

namespace app {

namespace {

constexpr std::size_t kMostShown = 300'000;  // bytes of a file
constexpr int kPauseMs = 120;

/// Keys, texts and numbers of JSON in our colours.
class JsonColours : public QSyntaxHighlighter {
  public:
    JsonColours(QTextDocument* document, const Editor& editor) : QSyntaxHighlighter(document), editor_(editor) {}

  protected:
    void highlightBlock(const QString& text) override {
        const Theme& t = editor_.theme();
        for (int i = 0; i < text.size();) {
            const QChar c = text[i];
            int end = i + 1;
            if (c == '"') {
                while (end < text.size() && text[end] != '"') end += text[end] == '\\' ? 2 : 1;
                end = std::min<int>(end + 1, static_cast<int>(text.size()));
                int next = end;
                while (next < text.size() && text[next].isSpace()) ++next;
                setFormat(i, end - i, next < text.size() && text[next] == ':' ? t.lilac : t.moss);
            } else if (c.isDigit() || c == '-') {
                while (end < text.size() && (text[end].isLetterOrNumber() || text[end] == '.')) ++end;
                setFormat(i, end - i, t.honey);
            }
            i = end;
        }
    }

  private:
    const Editor& editor_;
};

QPlainTextEdit* codeField(const char* name, const QString& accessible) {
    auto* field = new QPlainTextEdit;
    field->setObjectName(QLatin1String(name));
    field->setAccessibleName(accessible);
    field->setLineWrapMode(QPlainTextEdit::NoWrap);
    field->setStyleSheet("font-family: 'JetBrains Mono'; font-size: 9pt;");
    field->setTabChangesFocus(true);
    return field;
}

/// At least so many letters wide.
QComboBox* chooser(const char* name, const QString& accessible, const QString& tip, int letters) {
    auto* made = new QComboBox;
    made->setObjectName(QLatin1String(name));
    made->setAccessibleName(accessible);
    made->setToolTip(tip);
    made->setMinimumContentsLength(letters);
    return made;
}

model::ValueMap valuesIn(const io::Json& json) {
    model::ValueMap map = io::toValues(json);
    model::eraseValue(map, "format");
    model::eraseValue(map, "version");
    return map;
}

/// "recipe:7: …": the line, and what it says.
int lineIn(const std::string& message, const std::string& file) {
    return message.starts_with(file + ":") ? std::atoi(message.c_str() + file.size() + 1) : 0;
}

QTextEdit::ExtraSelection litLine(QTextCursor cursor, const QColor& colour) {
    QTextEdit::ExtraSelection lit;
    lit.cursor = std::move(cursor);
    lit.format.setBackground(colour);
    return lit;
}

}  // namespace

/// What a worker makes of a recipe; the scene is a snapshot.
struct RecipePage::Job {
    model::Scene scene;
    std::shared_ptr<const model::Library> library;
    std::map<base::ObjectId, std::string> prefabs;
    std::string text, name;
    bool isReceiver = false;
    std::vector<std::string> problems;
    int line = 0;
    hand::Written written;

    void run() {
        auto json = io::readOurs(text, name, isReceiver ? "mellow-receiver" : "mellow-recipe");
        if (!json) {
            problems.push_back(json.error().message);
            line = lineIn(json.error().message, name);
            return;
        }
        if (isReceiver) return void(hand::receiverFrom(name, valuesIn(*json), problems));
        const hand::Recipe recipe = hand::recipeFrom(name, valuesIn(*json), problems);
        if (const std::string why = hand::unusable(recipe); problems.empty() && !why.empty()) problems.push_back(why);
        if (!problems.empty()) return;
        const hand::Source source{scene, *library, [this](base::ObjectId id) {
                                      const auto held = prefabs.find(id);
                                      return held == prefabs.end() ? std::string() : held->second;
                                  }};
        written = hand::write(source, recipe);
    }
};

RecipePage::RecipePage(Editor& editor, QWidget* parent) : QWidget(parent), editor_(editor) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    auto* split = new QSplitter(Qt::Horizontal);
    split->setObjectName("recipeSides");
    split->setChildrenCollapsible(false);
    auto* left = new QWidget;
    auto* leftColumn = new QVBoxLayout(left);
    leftColumn->setContentsMargins(0, 0, 0, 0);
    auto* leftHead = new QHBoxLayout;
    names_ = chooser("recipeNames", tr("Recipe"), tr("The project’s recipes and receivers"), 14);
    leftHead->addWidget(names_, 1);
    auto* more = button<QToolButton>("recipeNew", tr("New ▾"), tr("A recipe from one of the examples; copy; delete"));
    more->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(more);
    for (const hand::Example& one : hand::examples()) {
        const auto json = io::parseJson(one.text, one.name);
        const QString says = json ? toQt(json->value("label", one.name)) : toQt(one.name);
        QAction* row = menu->addAction(says, this, [this, name = one.name] { addExample(name); });
        row->setObjectName(toQt("recipeExample." + one.name));
        if (json) row->setToolTip(toQt(json->value("help", std::string())));
    }
    menu->setToolTipsVisible(true);
    menu->addSeparator();
    menu->addAction(tr("A receiver of this recipe"), this, [this] { addReceiver(); })->setObjectName("receiverNew");
    menu->addSeparator();
    menu->addAction(tr("Copy what is shown"), this, [this] { duplicate(); })->setObjectName("recipeCopy");
    menu->addAction(tr("Delete what is shown"), this, [this] { remove(); })->setObjectName("recipeDelete");
    more->setMenu(menu);
    leftHead->addWidget(more);
    keep_ = button<QPushButton>("recipeKeep", tr("Keep"),
                                tr("What was typed becomes the recipe, as one step (Ctrl+Enter)"));
    keep_->setProperty("primary", true);
    leftHead->addWidget(keep_);
    leftColumn->addLayout(leftHead);
    text_ = codeField("recipeText", tr("The recipe’s text"));
    new JsonColours(text_->document(), editor_);
    leftColumn->addWidget(text_, 1);
    leftColumn->addWidget(problem_ = wrapped({}, "quiet"));
    problem_->setObjectName("recipeProblem");
    auto* right = new QWidget;
    auto* rightColumn = new QVBoxLayout(right);
    rightColumn->setContentsMargins(0, 0, 0, 0);
    auto* rightHead = new QHBoxLayout;
    files_ = chooser("recipeFiles", tr("File"), tr("Which of the files that the recipe makes is shown"), 18);
    rightHead->addWidget(files_);
    rightHead->addStretch();
    rightColumn->addLayout(rightHead);
    out_ = codeField("recipeOut", tr("What the recipe makes of the scene"));
    out_->setReadOnly(true);
    out_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    rightColumn->addWidget(out_, 1);
    rightColumn->addWidget(facts_ = wrapped({}, "recipeFacts"));
    facts_->setStyleSheet("font-size: 12px;");
    split->addWidget(left);
    split->addWidget(right);
    split->setStretchFactor(0, 2);
    split->setStretchFactor(1, 3);
    sides_ = split;
    whole->addWidget(split, 1);
    whole->addWidget(empty_ =
                         wrapped(tr("A recipe says how this scene becomes another program’s list: which objects, which "
                                    "fields, whose axes. New ▾ has ten to begin with."),
                                 "faint"));
    timer_.setSingleShot(true);
    timer_.setInterval(kPauseMs);
    connect(&timer_, &QTimer::timeout, this, &RecipePage::start);
    connect(names_, &QComboBox::activated, this, [this] {
        const QString chosen = names_->currentData().toString();
        show(chosen.mid(1).toStdString(), chosen.startsWith('>'));
    });
    connect(files_, &QComboBox::activated, this, [this](int row) {
        file_ = static_cast<std::size_t>(row);
        showFile();
    });
    connect(keep_, &QPushButton::clicked, this, &RecipePage::keep);
    connect(text_, &QPlainTextEdit::textChanged, this, [this] {
        if (filling_) return;
        changed_ = text_->toPlainText() != kept_;
        keep_->setEnabled(changed_ && editor_.session().readOnlyReason().empty());
        later();
    });
    text_->installEventFilter(this);
    out_->installEventFilter(this);
    out_->viewport()->installEventFilter(this);
    connect(&editor_, &Editor::selectionChanged, this, &RecipePage::light);
    const auto again = [this] {
        library_.reset();
        fillNames();
        later();
    };
    connect(&editor_, &Editor::libraryChanged, this, again);
    connect(&editor_, &Editor::projectChanged, this, [this, again] {
        name_.clear();
        changed_ = false;
        again();
    });
    connect(&editor_, &Editor::historyChanged, this, again);
    connect(&editor_, &Editor::sceneShown, this, &RecipePage::later);
    connect(&editor_, &Editor::sceneEdited, this, &RecipePage::later);
    connect(&editor_, &Editor::themeChanged, this, &RecipePage::light);
    keep_->setEnabled(false);
}

void RecipePage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    fillNames();
    later();
}

/// A click on a line, or a key that goes to another one.
bool RecipePage::eventFilter(QObject* watched, QEvent* event) {
    if (watched == text_ && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Return && key->modifiers() == Qt::ControlModifier) return keep(), true;
    }
    const bool clicked = watched == out_->viewport() && event->type() == QEvent::MouseButtonRelease;
    const bool went = watched == out_ && event->type() == QEvent::KeyRelease;
    if (clicked || went) QTimer::singleShot(0, this, &RecipePage::pointed);  // once the cursor is there
    return QWidget::eventFilter(watched, event);
}

const model::data::Foldered& RecipePage::folder() const {
    return isReceiver_ ? model::data::kReceivers : model::data::kRecipes;
}

const model::Library::Papers& RecipePage::papers() const {
    const model::Library& library = editor_.session().library();
    return isReceiver_ ? library.receivers : library.recipes;
}

void RecipePage::fillNames() {
    if (!editor_.hasProject() || !isVisible()) return;
    const model::Library& library = editor_.session().library();
    if (!changed_ && !papers().contains(name_)) {
        isReceiver_ = false;
        name_ = library.recipes.empty() ? std::string() : library.recipes.begin()->first;
    }
    // A sign in front tells what it is: "-" a recipe, ">" a receiver.
    names_->clear();
    for (const auto& [name, map] : library.recipes)
        names_->addItem(toQt(model::textOf(map, "label", name)), toQt("-" + name));
    if (!library.receivers.empty()) names_->insertSeparator(names_->count());
    for (const auto& [name, map] : library.receivers)
        names_->addItem(tr("→ %1").arg(toQt(model::textOf(map, "label", name))), toQt(">" + name));
    names_->setCurrentIndex(names_->findData(toQt((isReceiver_ ? ">" : "-") + name_)));
    const bool any = !library.recipes.empty() || !library.receivers.empty() || changed_;
    sides_->setVisible(any);
    empty_->setVisible(!any);
    if (!changed_) fillText();
}

void RecipePage::fillText() {
    QString text;
    if (const auto held = papers().find(name_); held != papers().end()) {
        io::Json json = {{"format", std::string(folder().format)}, {"version", 1}};
        json.update(io::toJson(model::Value{held->second}));
        text = toQt(io::toReadable(json));
    }
    kept_ = text;
    if (text_->toPlainText() == text) return;
    filling_ = true;
    text_->setPlainText(text);
    filling_ = false;
    keep_->setEnabled(false);
}

void RecipePage::show(const std::string& name, bool isReceiver) {
    name_ = name;
    isReceiver_ = isReceiver;
    changed_ = false;
    file_ = 0;
    fillNames();
    later();
}

void RecipePage::addReceiver() {
    const auto& all = editor_.session().library().receivers;
    std::string free = "game";
    for (int n = 2; all.contains(free); ++n) free = "game-" + std::to_string(n);
    model::ValueList gives;
    if (!isReceiver_ && !name_.empty()) gives.push_back({model::ValueMap{{"recipe", {name_}}}});
    gives.push_back({model::ValueMap{{"gltf", {model::ValueMap{}}}, {"file", {"{scene}.glb"}}}});
    const model::ValueMap values = {{"label", {"Game"}}, {"folder", {"handover"}}, {"gives", {std::move(gives)}}};
    if (editor_.run("Add the receiver " + free,
                    [&](edit::Draft& draft) { return hand::putPaper(draft, model::data::kReceivers, free, values); }))
        show(free, true);
}

void RecipePage::addExample(const std::string& name) {
    const auto& all = hand::examples();
    const auto example = std::ranges::find(all, name, &hand::Example::name);
    if (example == all.end()) return;
    const auto json = io::readOurs(example->text, name, "mellow-recipe");
    if (!json) return;
    std::string free = name;
    for (int n = 2; editor_.session().library().recipes.contains(free); ++n) free = name + "-" + std::to_string(n);
    if (editor_.run("Add the recipe " + free,
                    [&](edit::Draft& draft) { return hand::putRecipe(draft, free, valuesIn(*json)); }))
        show(free);
}

void RecipePage::duplicate() {
    const auto held = papers().find(name_);
    if (held == papers().end()) return;
    std::string free = name_ + "-2";
    for (int n = 3; papers().contains(free); ++n) free = name_ + "-" + std::to_string(n);
    model::ValueMap values = held->second;
    model::setValue(values, "label", model::Value{model::textOf(values, "label", name_) + " 2"});
    if (editor_.run("Copy " + name_,
                    [&](edit::Draft& draft) { return hand::putPaper(draft, folder(), free, std::move(values)); }))
        show(free, isReceiver_);
}

void RecipePage::remove() {
    if (!papers().contains(name_)) return;
    changed_ = false;
    editor_.run("Delete " + name_,
                [&](edit::Draft& draft) { return hand::putPaper(draft, folder(), name_, std::nullopt); });
}

std::optional<hand::Recipe> RecipePage::typed() const {
    if (isReceiver_) return std::nullopt;
    const auto json = io::readOurs(text_->toPlainText().toStdString(), name_, "mellow-recipe");
    if (!json) return std::nullopt;
    std::vector<std::string> problems;
    hand::Recipe recipe = hand::recipeFrom(name_, valuesIn(*json), problems);
    if (!problems.empty() || !hand::unusable(recipe).empty()) return std::nullopt;
    return recipe;
}

bool RecipePage::keep() {
    if (!changed_ || name_.empty()) return false;
    const auto json = io::readOurs(text_->toPlainText().toStdString(), name_, folder().format);
    if (!json) return editor_.report(tl::unexpected(json.error()));
    if (!editor_.run((isReceiver_ ? "Change the receiver " : "Change the recipe ") + name_,
                     [&](edit::Draft& draft) { return hand::putPaper(draft, folder(), name_, valuesIn(*json)); }))
        return false;
    changed_ = false;
    keep_->setEnabled(false);
    fillNames();
    return true;
}

void RecipePage::later() {
    if (isVisible() && editor_.isOpen()) timer_.start();
}

void RecipePage::start() {
    if (!isVisible() || !editor_.isOpen() || name_.empty()) return;
    if (running_) {
        again_ = true;
        return;
    }
    if (!library_) library_ = std::make_shared<const model::Library>(editor_.session().library());
    auto job = std::make_shared<Job>(
        Job{editor_.scene(), library_, {}, text_->toPlainText().toStdString(), name_, isReceiver_, {}, 0, {}});
    for (const auto& [id, scene] : editor_.session().definitions()) job->prefabs[id] = editor_.session().prefabName(id);
    running_ = job;
    QThreadPool::globalInstance()->start([job, page = QPointer<RecipePage>(this)] {
        job->run();
        QMetaObject::invokeMethod(
            qApp,
            [job, page] {
                if (page) page->take(*job);
            },
            Qt::QueuedConnection);
    });
}

void RecipePage::take(const Job& job) {
    running_.reset();
    if (again_) {
        again_ = false;
        later();
    }
    if (job.name != name_ || job.isReceiver != isReceiver_) return;
    if (!job.problems.empty()) return say(toQt(job.problems.front()), job.line);
    say({}, 0);
    if (isReceiver_) {
        written_ = {};
        files_->clear();
        out_->clear();
        return facts_->setText(tr("A receiver: “Look first” says what it would be given."));
    }
    written_ = job.written;
    if (file_ >= written_.files.size()) file_ = 0;
    files_->clear();
    for (const hand::WrittenFile& file : written_.files) files_->addItem(toQt(file.name));
    files_->setCurrentIndex(static_cast<int>(file_));
    QString facts = written_.entries == 1 ? tr("1 entry") : tr("%1 entries").arg(written_.entries);
    if (written_.passedOver > 0) facts += tr(" · %1 left out by the filter").arg(written_.passedOver);
    if (written_.farthestRounded > 1e-9)
        facts += tr(" · rounded by %1 m at most").arg(QString::number(written_.farthestRounded, 'g', 2));
    if (!written_.remarks.empty()) facts += tr(" · %1 to note").arg(written_.remarks.size());
    facts_->setText(facts);
    QString remarks;
    for (const std::string& remark : written_.remarks) remarks += toQt(remark) + "\n";
    facts_->setToolTip(remarks.trimmed());
    showFile();
}

void RecipePage::say(const QString& problem, int line) {
    problem_->setText(problem.isEmpty() ? QString() : QStringLiteral("▲ ") + problem);
    problem_->setStyleSheet(problem.isEmpty() ? QString() : QString("color: %1").arg(editor_.theme().rose.name()));
    problem_->setVisible(!problem.isEmpty());
    QList<QTextEdit::ExtraSelection> lit;
    if (line > 0) {
        QColor colour = editor_.theme().rose;
        colour.setAlpha(60);
        QTextEdit::ExtraSelection one = litLine(QTextCursor(text_->document()->findBlockByNumber(line - 1)), colour);
        one.format.setProperty(QTextFormat::FullWidthSelection, true);
        lit.append(one);
    }
    text_->setExtraSelections(lit);
}

/// A part of it where it is long, round what is selected.
void RecipePage::showFile() {
    if (written_.files.empty()) {
        out_->clear();
        return;
    }
    const hand::WrittenFile& file = written_.files[file_];
    from_ = 0;
    to_ = file.text.size();
    if (to_ > kMostShown) {
        std::size_t wanted = 0;
        for (const auto& span : file.spans)
            if (!editor_.selection().empty() && span.id == editor_.selection().back()) wanted = span.from;
        if (wanted > kMostShown / 2) from_ = file.text.rfind('\n', wanted - kMostShown / 3) + 1;
        to_ = std::min(file.text.size(), file.text.find('\n', std::min(file.text.size(), from_ + kMostShown)));
    }
    const int across = out_->horizontalScrollBar()->value(), down = out_->verticalScrollBar()->value();
    filling_ = true;
    out_->setPlainText(QString::fromUtf8(file.text.data() + from_, static_cast<qsizetype>(to_ - from_)));
    filling_ = false;
    out_->horizontalScrollBar()->setValue(across);
    out_->verticalScrollBar()->setValue(down);
    light();
}

int RecipePage::positionAt(std::size_t byte) const {
    const std::string& text = written_.files[file_].text;
    const std::size_t end = std::clamp(byte, from_, to_);
    const QString before = QString::fromUtf8(text.data() + from_, static_cast<qsizetype>(end - from_));
    return static_cast<int>(before.size() - before.count("\r\n"));
}

std::size_t RecipePage::byteAt(int position) const {
    // As it is shown there are no carriage returns.
    const std::string& text = written_.files[file_].text;
    int left = position;
    for (std::size_t i = from_; i < to_;) {
        if (left <= 0) return i;
        const auto [code, length] = base::codePointAt(text, i);
        if (code != '\r') left -= code > 0xFFFF ? 2 : 1;
        i += length;
    }
    return to_;
}

void RecipePage::light() {
    if (!isVisible() || written_.files.empty() || !editor_.isOpen()) return;
    const hand::WrittenFile& file = written_.files[std::min(file_, written_.files.size() - 1)];
    QColor honey = editor_.theme().honey;
    honey.setAlpha(70);
    QList<QTextEdit::ExtraSelection> lit;
    constexpr int kMost = 200;
    int first = -1;
    const std::vector<base::ObjectId>& chosen = editor_.selection();
    for (const auto& span : file.spans) {
        if (lit.size() >= kMost) break;
        if (span.from < from_ || span.to > to_ || std::ranges::find(chosen, span.id) == chosen.end()) continue;
        QTextCursor cursor(out_->document());
        cursor.setPosition(positionAt(span.from));
        if (first < 0) first = cursor.position();
        cursor.setPosition(positionAt(span.to), QTextCursor::KeepAnchor);
        lit.append(litLine(cursor, honey));
    }
    out_->setExtraSelections(lit);
    if (first < 0 || pointing_) return;
    filling_ = true;
    QTextCursor there(out_->document());
    there.setPosition(first);
    out_->setTextCursor(there);
    out_->centerCursor();
    filling_ = false;
}

void RecipePage::pointed() {
    if (written_.files.empty() || out_->textCursor().hasSelection()) return;
    const std::size_t at = byteAt(out_->textCursor().position());
    for (const auto& span : written_.files[file_].spans)
        if (at >= span.from && at <= span.to) {
            pointing_ = true;  // the text stays where it is
            if (editor_.selection() != std::vector{span.id}) editor_.select({span.id});
            pointing_ = false;
            return;
        }
}

}  // namespace app
