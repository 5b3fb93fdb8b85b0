#include "app/dialogs/manual_window.h"

#include <QCoreApplication>
#include <QFile>
#include <QHeaderView>
#include <QKeyEvent>
#include <QRegularExpression>
#include <QSplitter>
#include <QTextBlock>
#include <QUrl>
#include <QVBoxLayout>

namespace app {

namespace {

const char* const kPages[] = {"first-steps.md", "working.md",      "rehearsing.md", "cues.md",         "acts.md",
                              "cameras.md",     "sounds.md",       "routes.md",     "handing-over.md", "checks.md",
                              "scripting.md",   "command-line.md", "licences.md"};

/// The page as it is read here: without its pictures.
QString pageText(const QString& page) {
    QFile file(":/manual/" + page);
    if (!file.open(QIODevice::ReadOnly)) return {};
    QString text = QString::fromUtf8(file.readAll());
    if (page == QLatin1String("licences.md"))
        text.prepend(ManualWindow::tr("# Mellow Lattice %1\n\n").arg(QCoreApplication::applicationVersion()));
    return text.remove(QRegularExpression(QStringLiteral("!\\[[^\\]]*\\]\\([^)]*\\)")));
}

}  // namespace

ManualWindow::ManualWindow(QWidget* parent) : QWidget(parent, Qt::Window) {
    setObjectName("panel");
    setAttribute(Qt::WA_DeleteOnClose);
    setAttribute(Qt::WA_StyledBackground);
    setWindowTitle(tr("Manual"));
    resize(900, 640);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(10, 10, 10, 10);
    auto* split = new QSplitter;
    auto* left = new QWidget;
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 6, 0);
    column->addWidget(search_ = new QLineEdit);
    search_->setObjectName("manualSearch");
    search_->setPlaceholderText(tr("Find in the manual"));
    search_->setAccessibleName(tr("Find in the manual"));
    search_->setClearButtonEnabled(true);
    column->addWidget(list_ = new QTreeWidget, 1);
    list_->setObjectName("manualList");
    list_->setAccessibleName(tr("Pages and headings"));
    list_->setHeaderHidden(true);
    split->addWidget(left);
    split->addWidget(text_ = new QTextBrowser);
    text_->setObjectName("manualText");
    text_->setAccessibleName(tr("Page of the manual"));
    text_->setOpenLinks(false);
    split->setSizes({260, 620});
    outer->addWidget(split);
    readPages();
    connect(search_, &QLineEdit::textChanged, this, &ManualWindow::list);
    connect(search_, &QLineEdit::returnPressed, this, [this] {
        if (list_->topLevelItemCount() > 0) list_->setCurrentItem(list_->topLevelItem(0));
        text_->setFocus();
    });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* row) {
        if (row != nullptr) showSection(sections_[row->data(0, Qt::UserRole).toUInt()]);
    });
    connect(text_, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
        const QString page = link.path().section('/', -1);
        if (QFile::exists(":/manual/" + page)) open(page);
    });
    list();
    open(QLatin1String(kPages[0]));
    search_->setFocus();
}

void ManualWindow::readPages() {
    for (const char* page : kPages) {
        bool inCode = false;
        for (const QString& line : pageText(QLatin1String(page)).split('\n')) {
            if (line.startsWith(QLatin1String("```"))) inCode = !inCode;
            const auto level = line.indexOf(QRegularExpression(QStringLiteral("[^#]")));
            if (!inCode && level > 0 && line.mid(level).startsWith(' '))
                sections_.push_back({QLatin1String(page), line.mid(level).trimmed().remove('`'), {}, int(level)});
            else if (!sections_.empty())
                sections_.back().text += line + '\n';
        }
    }
}

/// Pages with their headings; of what is looked for, the headings below which it is said, those that say it first.
void ManualWindow::list() {
    const QString wanted = search_->text().trimmed();
    QTreeWidgetItem* above = nullptr;
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const bool inTitle : {true, false})
        for (std::size_t i = 0; i < sections_.size(); ++i) {
            const Section& s = sections_[i];
            const bool titled = s.title.contains(wanted, Qt::CaseInsensitive);
            if (wanted.isEmpty() ? !inTitle || s.level > 3
                                 : titled != inTitle || (!titled && !s.text.contains(wanted, Qt::CaseInsensitive)))
                continue;
            auto* row = wanted.isEmpty() && s.level > 1 && above != nullptr ? new QTreeWidgetItem(above)
                                                                            : new QTreeWidgetItem(list_);
            row->setText(0, s.title);
            row->setToolTip(0, s.title);
            row->setData(0, Qt::UserRole, static_cast<uint>(i));
            if (wanted.isEmpty() && s.level == 1) above = row;
        }
}

void ManualWindow::open(const QString& page) {
    for (const Section& s : sections_)
        if (s.page == page) return showSection(s);
}

void ManualWindow::showSection(const Section& section) {
    if (page_ != section.page) {
        page_ = section.page;
        text_->setMarkdown(pageText(page_));
        text_->document()->setDocumentMargin(14);
    }
    // To its heading, and on to the first place that says what is looked for.
    QTextCursor at(text_->document());
    for (QTextBlock block = text_->document()->begin(); block.isValid(); block = block.next())
        if (block.blockFormat().headingLevel() > 0 && block.text() == section.title) {
            at = QTextCursor(block);
            break;
        }
    text_->moveCursor(QTextCursor::End);
    text_->setTextCursor(at);
    const QString wanted = search_->text().trimmed();
    if (!wanted.isEmpty()) text_->find(wanted);
}

void ManualWindow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) close();
    QWidget::keyPressEvent(event);
}

}  // namespace app
