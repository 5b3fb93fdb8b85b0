#include "app/panels/start_page.h"

#include <QCoreApplication>
#include <QDir>
#include <QEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/kit/parts.h"
#include "app/shell/recent_projects.h"
#include "io/templates.h"

namespace app {

namespace {

constexpr QSize kPicture(128, 80);
constexpr int kWide = 620, kHigh = 470, kHighWithout = 210;  // without a project to go on with
constexpr int kGone = Qt::UserRole + 1;

/// As wide and high as the others, whatever there is.
QPixmap framed(const QPixmap& picture) {
    QPixmap framed(kPicture);
    framed.fill(Qt::transparent);
    QPainter p(&framed);
    if (picture.isNull()) {
        p.setPen(QColor(128, 128, 128, 90));
        p.drawRoundedRect(framed.rect().adjusted(0, 0, -1, -1), 4, 4);
    } else {
        const QPixmap fit = picture.scaled(kPicture, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation);
        p.drawPixmap(0, 0, fit, (fit.width() - kPicture.width()) / 2, (fit.height() - kPicture.height()) / 2,
                     kPicture.width(), kPicture.height());
    }
    return framed;
}

}  // namespace

QString StartPage::demoFolder() {
    const QDir here(QCoreApplication::applicationDirPath());
    for (const char* place : {"../share/mellow-lattice/demo/heron-lock", "../../../demo/heron-lock"}) {
        const QString folder = QDir::cleanPath(here.filePath(place));
        if (QFileInfo::exists(folder + "/project.json")) return folder;
    }
    return {};
}

StartPage::StartPage(QWidget* parent) : QFrame(parent), list_(new QListWidget) {
    setObjectName("startPage");
    setAttribute(Qt::WA_StyledBackground);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(18, 16, 18, 16);
    layout->setSpacing(10);
    layout->addWidget(label(tr("Mellow Lattice"), "cardTitle"));
    list_->setObjectName("startList");
    list_->setAccessibleName(tr("Projects that were open lately"));
    list_->setToolTip(tr("Enter: open · Delete: take it off this list (its files stay)"));
    list_->setIconSize(kPicture);
    list_->setSpacing(2);
    list_->setWordWrap(true);
    list_->installEventFilter(this);
    layout->addWidget(list_, 1);
    auto* fresh = new QHBoxLayout;
    addTemplates(fresh);
    layout->addLayout(fresh);
    auto* row = new QHBoxLayout;
    auto button = [&](const char* name, const QString& text, const QString& tip, auto act) {
        auto* b = app::button<QPushButton>(name, text, tip);
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, act);
        return b;
    };
    button("startOpen", tr("Open a folder…"), tr("A project that is there already"), [this] { Q_EMIT chooseAsked(); });
    auto* demo = button("startDemo", tr("Open the demo"), tr("Heron Lock: a level to look round in and to try on"),
                        [this] { Q_EMIT openAsked(demoFolder()); });
    demo->setVisible(!demoFolder().isEmpty());
    row->addStretch();
    layout->addLayout(row);
    connect(list_, &QListWidget::itemActivated, this, &StartPage::take);
    connect(list_, &QListWidget::itemClicked, this, &StartPage::take);
    parent->installEventFilter(this);
    hide();
}

void StartPage::addTemplates(QBoxLayout* row) {
    row->addWidget(label(tr("New project like"), "quiet"));
    for (const io::Template& one : io::templates()) {
        const QString name = QString::fromStdString(one.name);
        auto* b = app::button<QPushButton>("", name, QString::fromStdString(one.description));
        b->setObjectName("startNew." + name);
        b->setAccessibleName(tr("New project like %1").arg(name));
        row->addWidget(b);
        connect(b, &QPushButton::clicked, this, [this, name] { Q_EMIT newAsked(name); });
        if (firstNew_ == nullptr) firstNew_ = b;
    }
    row->addStretch();
}

void StartPage::refill() {
    list_->clear();
    bool isFirst = true;
    for (const RecentProject& one : recentProjects()) {
        QString text = isFirst && one.isThere ? tr("Go on: %1").arg(one.name) : one.name;
        if (!one.scene.isEmpty()) text += QStringLiteral(" › ") + one.scene;
        text += "\n" + QDir::toNativeSeparators(one.folder);
        if (one.last.isValid()) text += "\n" + QLocale::c().toString(one.last, "yyyy-MM-dd HH:mm");
        if (!one.isThere) text += "\n" + tr("It is not there any more. Enter: look for it · Delete: forget it");
        auto* item = new QListWidgetItem(QIcon(framed(one.picture)), text, list_);
        item->setData(Qt::UserRole, one.folder);
        item->setData(kGone, !one.isThere);
        isFirst = false;
    }
    const bool isFirstStart = list_->count() == 0;
    if (isFirstStart) {
        auto* item = new QListWidgetItem(tr("No project was open yet.\nMake one, open a folder, or look at the demo."));
        item->setFlags(Qt::ItemIsEnabled);
        list_->addItem(item);
    }
    list_->setCurrentRow(0);
    place();
    raise();
    (isFirstStart ? firstNew_ : list_)->setFocus();
}

void StartPage::place() {
    const bool hasAny = !list_->item(0)->data(Qt::UserRole).toString().isEmpty();
    resize(std::min(kWide, parentWidget()->width() - 40),
           std::min(hasAny ? kHigh : kHighWithout, parentWidget()->height() - 40));
    move((parentWidget()->width() - width()) / 2, (parentWidget()->height() - height()) / 2);
}

void StartPage::take(const QListWidgetItem* item) {
    const QString folder = item != nullptr ? item->data(Qt::UserRole).toString() : QString();
    if (folder.isEmpty()) return;
    if (item->data(kGone).toBool())
        Q_EMIT lookForAsked(folder);
    else
        Q_EMIT openAsked(folder);
}

void StartPage::forgetCurrent() {
    const QListWidgetItem* item = list_->currentItem();
    if (item == nullptr || item->data(Qt::UserRole).toString().isEmpty()) return;
    forgetProject(item->data(Qt::UserRole).toString());
    refill();
}

void StartPage::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Delete) return forgetCurrent();
    if (event->key() == Qt::Key_Escape) return void(Q_EMIT closeAsked());
    QFrame::keyPressEvent(event);
}

bool StartPage::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parentWidget() && event->type() == QEvent::Resize && isVisible()) place();
    return QFrame::eventFilter(watched, event);
}

}  // namespace app
