#include "app/panels/sounds_panel.h"

#include <QFileDialog>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMimeData>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QTimer>
#include <QVBoxLayout>

#include "app/kit/folding_bar.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/focus_home.h"
#include "app/shell/listening.h"
#include "base/files.h"
#include "edit/delta.h"
#include "edit/session.h"
#include "io/added.h"
#include "io/media.h"
#include "model/facets/sound.h"

namespace app {

namespace {

enum Column { kName, kWave, kLength, kLoudness, kPeak, kUsed, kColumns };
constexpr std::uint64_t kMostBytes = 256u << 20;

/// The wave of a row, with a line where it is heard at the moment.
class WavePainter : public QStyledItemDelegate {
  public:
    WavePainter(const Editor& editor, std::function<const io::SoundFacts*(int)> facts, std::function<double(int)> share,
                QObject* parent)
        : QStyledItemDelegate(parent), editor_(editor), facts_(std::move(facts)), share_(std::move(share)) {}
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        QStyledItemDelegate::paint(p, option, index);
        const io::SoundFacts* facts = facts_(index.row());
        if (facts == nullptr || facts->high.empty()) return;
        const QRectF at = QRectF(option.rect).adjusted(4, 3, -4, -3);
        const double middle = at.center().y(), half = at.height() / 2;
        p->save();
        p->setPen(QPen(editor_.theme().line, 1));
        p->drawLine(QPointF(at.left(), middle), QPointF(at.right(), middle));
        p->setPen(QPen(editor_.theme().axis[2], 1));
        for (int x = 0; x < static_cast<int>(at.width()); ++x) {
            const auto part = static_cast<std::size_t>(x) * facts->high.size() / static_cast<std::size_t>(at.width());
            const double high = std::min(1.0F, facts->high[part]), low = std::max(-1.0F, facts->low[part]);
            p->drawLine(QPointF(at.left() + x, middle - high * half), QPointF(at.left() + x, middle - low * half));
        }
        if (const double share = share_(index.row()); share >= 0) {
            p->setPen(QPen(editor_.theme().honey, 2));
            const double x = at.left() + std::min(1.0, share) * at.width();
            p->drawLine(QPointF(x, at.top()), QPointF(x, at.bottom()));
        }
        p->restore();
    }

  private:
    const Editor& editor_;
    std::function<const io::SoundFacts*(int)> facts_;
    std::function<double(int)> share_;
};

/// Sounds are dragged out of it into the view.
class SoundTable : public QTableWidget {
  public:
    using QTableWidget::QTableWidget;
    QStringList mimeTypes() const override { return {QString::fromLatin1(kSoundMime)}; }
    QMimeData* mimeData(const QList<QTableWidgetItem*>& items) const override {
        auto* mime = new QMimeData;
        if (!items.isEmpty()) mime->setData(kSoundMime, item(items.front()->row(), kName)->text().toUtf8());
        return mime;
    }
};

}  // namespace

SoundsPanel::SoundsPanel(Editor& editor, Listening& listening, QWidget* parent)
    : QWidget(parent), editor_(editor), listening_(listening) {
    setObjectName("panel");
    FocusHome::keepKeyboard(this);
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(10, 4, 10, 6);
    auto* head = new FoldingBar;
    head->add(listen_ =
                  button<QToolButton>("soundListen", tr("Listen"), tr("Plays the chosen sound; again: stops (Space)")));
    head->add(place_ = button<QToolButton>("soundPlace", tr("Place"), tr("An object that is heard, where one looks")));
    head->add(add_ = button<QToolButton>("soundAdd", tr("Add sounds…"),
                                         tr("WAV, FLAC and Ogg files are copied into the project")));
    head->add(mute_ = button<QToolButton>("soundMute", tr("Mute"), tr("Nothing is heard, in rehearsals neither")));
    mute_->setCheckable(true);
    head->addStretch();
    whole->addWidget(head);
    table_ = new SoundTable(0, kColumns);
    table_->setDragEnabled(true);
    table_->setDragDropMode(QAbstractItemView::DragOnly);
    table_->setObjectName("soundTable");
    table_->setAccessibleName(tr("Sounds of the project"));
    table_->setHorizontalHeaderLabels(
        {tr("Sound"), tr("Wave"), tr("Length"), tr("Loudness"), tr("Peak"), tr("Used by")});
    for (int column : {kLength, kLoudness, kPeak, kUsed})
        table_->horizontalHeaderItem(column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    table_->horizontalHeaderItem(kName)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->horizontalHeaderItem(kWave)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table_->horizontalHeader()->setSectionResizeMode(kWave, QHeaderView::Stretch);
    table_->setColumnWidth(kName, 190);
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->verticalHeader()->setDefaultSectionSize(30);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->installEventFilter(this);
    table_->setItemDelegateForColumn(
        kWave, new WavePainter(
                   editor_,
                   [this](int row) -> const io::SoundFacts* {
                       const auto known = row < static_cast<int>(files_.size())
                                              ? known_.find(files_[static_cast<std::size_t>(row)])
                                              : known_.end();
                       return known != known_.end() && known->second.facts ? &*known->second.facts : nullptr;
                   },
                   [this](int row) {
                       return row < static_cast<int>(files_.size()) &&
                                      files_[static_cast<std::size_t>(row)] == listening_.playing()
                                  ? listening_.share()
                                  : -1.0;
                   },
                   this));
    whole->addWidget(table_, 1);
    whole->addWidget(
        empty_ =
            wrapped(tr("No sounds yet. Add WAV, FLAC or Ogg files, and place them where they are heard."), "faint"));
    connect(listen_, &QToolButton::clicked, this, [this] { listen(); });
    connect(place_, &QToolButton::clicked, this, [this] {
        if (!chosen().empty()) Q_EMIT placeAsked(chosen());
    });
    connect(add_, &QToolButton::clicked, this, &SoundsPanel::chooseFiles);
    connect(mute_, &QToolButton::clicked, this, [this] { listening_.setMuted(mute_->isChecked()); });
    connect(table_, &QTableWidget::cellClicked, this, [this](int, int column) {
        if (column == kWave) listen();
    });
    connect(table_, &QTableWidget::itemSelectionChanged, this, [this] {
        listen_->setEnabled(!chosen().empty());
        place_->setEnabled(!chosen().empty() && editor_.session().readOnlyReason().empty());
    });
    connect(&listening_, &Listening::changed, this, [this] {
        listen_->setText(listening_.playing().empty() ? tr("Listen") : tr("Stop"));
        mute_->setChecked(listening_.isMuted());
        mute_->setText(listening_.isMuted() ? tr("✓ Mute") : tr("Mute"));
        table_->viewport()->update();
    });
    const auto again = [this] {
        if (isVisible()) fill();
    };
    connect(&editor_, &Editor::projectChanged, this, again);
    connect(&editor_, &Editor::libraryChanged, this, again);
    connect(&editor_, &Editor::historyChanged, this, again);
    connect(&editor_, &Editor::sceneShown, this, again);
}

void SoundsPanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    fill();
}

bool SoundsPanel::eventFilter(QObject* watched, QEvent* event) {
    if (watched == table_ && event->type() == QEvent::KeyPress &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Space) {
        listen();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

std::string SoundsPanel::chosen() const {
    const int row = table_->currentRow();
    return row >= 0 && row < static_cast<int>(files_.size()) && !table_->selectedItems().isEmpty()
               ? files_[static_cast<std::size_t>(row)]
               : std::string();
}

void SoundsPanel::listen() {
    if (!listening_.playing().empty() && chosen() == listening_.playing()) return listening_.stop();
    if (!chosen().empty()) listening_.toggle(chosen());
}

void SoundsPanel::fill() {
    if (!editor_.hasProject()) return;
    const std::string before = chosen();
    std::vector<std::string> now;
    for (const std::string& name : io::mediaNames(editor_.session()))
        if (io::isSoundName(name)) now.push_back(name);
    if (now != files_) {
        files_ = std::move(now);
        table_->setRowCount(static_cast<int>(files_.size()));
        for (int row = 0; row < table_->rowCount(); ++row)
            for (int column = 0; column < kColumns; ++column) {
                auto* item = new QTableWidgetItem;
                if (column >= kLength) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
                table_->setItem(row, column, item);
            }
    }
    for (int row = 0; row < table_->rowCount(); ++row) {
        fillRow(row);
        if (files_[static_cast<std::size_t>(row)] == before) table_->selectRow(row);
    }
    empty_->setVisible(files_.empty());
    table_->setVisible(!files_.empty());
    listen_->setEnabled(!chosen().empty());
    place_->setEnabled(!chosen().empty());
    QTimer::singleShot(0, this, [this] { readNext(); });
}

/// One file at a time, so that the window goes on.
void SoundsPanel::readNext() {
    if (!editor_.hasProject() || !isVisible()) return;
    for (int row = 0; row < table_->rowCount(); ++row) {
        const std::string& name = files_[static_cast<std::size_t>(row)];
        const auto path = io::projectFile(editor_.session().project().folder, "media/" + name);
        std::error_code none;
        const std::int64_t stamp = path ? std::filesystem::last_write_time(*path, none).time_since_epoch().count() : -1;
        Known& known = known_[name];
        if (known.stamp == stamp) continue;
        known = {stamp, std::nullopt, {}};
        const auto sound = path ? io::readSound(*path) : base::Result<io::SoundData>(tl::unexpected(path.error()));
        if (sound)
            known.facts = io::factsOf(*sound);
        else
            known.problem = sound.error().message;
        fillRow(row);
        QTimer::singleShot(0, this, [this] { readNext(); });
        return;
    }
}

void SoundsPanel::fillRow(int row) {
    const std::string& name = files_[static_cast<std::size_t>(row)];
    const auto say = [&](int column, const QString& text) { table_->item(row, column)->setText(text); };
    say(kName, toQt(name));
    std::size_t used = 0;
    const model::Scene& scene = editor_.scene();
    for (Slot s = 0; editor_.isOpen() && s < scene.slotEnd(); ++s)
        if (scene.alive(s) && scene.detail(s))
            if (const auto* sound = scene.facet<model::Sound>(s); sound != nullptr && sound->file == name) ++used;
    say(kUsed, used == 0 ? tr("nothing") : QString::number(used));
    const auto known = known_.find(name);
    if (known == known_.end()) return;
    table_->item(row, kName)->setToolTip(toQt(known->second.problem));
    if (!known->second.facts) return say(kLength, known->second.problem.empty() ? QString() : tr("cannot be read"));
    const io::SoundFacts& facts = *known->second.facts;
    say(kLength, tr("%1 s").arg(fixed(facts.seconds, 2)));
    say(kLoudness, tr("%1 dB").arg(fixed(facts.loudness, 1)));
    say(kPeak, fixed(facts.peak, 2));
    table_->item(row, kLength)
        ->setToolTip(tr("%1, %2 Hz")
                         .arg(facts.channels == 1 ? tr("one channel") : tr("%1 channels").arg(facts.channels))
                         .arg(facts.rate));
}

void SoundsPanel::chooseFiles() {
    add(QFileDialog::getOpenFileNames(this, tr("Add sounds"), {}, tr("Sounds (*.wav *.flac *.ogg *.oga)")));
}

void SoundsPanel::add(const QStringList& files) {
    if (files.isEmpty()) return;
    const bool added = editor_.run("Add sounds", [&](edit::Draft& draft) -> base::Status {
        for (const QString& file : files) {
            const std::filesystem::path path(file.toStdString());
            if (!io::isSoundName(path.filename().string()))
                return base::fail(base::ErrorCode::BadInput,
                                  path.filename().string() + " is no WAV, FLAC or Ogg file.");
            if (const auto sound = io::readSound(path); !sound) return tl::unexpected(sound.error());
            const auto bytes = base::readFile(path, kMostBytes);
            if (!bytes) return tl::unexpected(bytes.error());
            if (const auto name = io::addMedia(draft, path.filename().string(), *bytes); !name)
                return tl::unexpected(name.error());
        }
        return {};
    });
    if (added) fill();
}

}  // namespace app
