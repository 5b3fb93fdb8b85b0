// What is dropped into the view: items, surfaces and images. The slot under the pointer lights up.
#include <QBuffer>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QImage>
#include <QImageReader>
#include <QMessageBox>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QPointer>
#include <QPushButton>
#include <QThreadPool>
#include <QUrl>

#include "app/panels/surfaces_panel.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "io/image_head.h"
#include "io/media.h"
#include "model/facets/surfaces.h"
#include "ops/surfaces.h"
#include "shape/dress.h"

namespace app {

using model::kNoSlot;
using model::Slot;

namespace {

constexpr int kLargestImage = 2048;  // pixels; above it a smaller copy is offered

QString imageFile(const QMimeData* data) {
    if (!data->hasUrls() || data->urls().size() != 1) return {};
    const QString file = data->urls().front().toLocalFile();
    const QString ending = QFileInfo(file).suffix().toLower();
    return ending == "png" || ending == "jpg" || ending == "jpeg" ? file : QString();
}

}  // namespace

void ViewWidget::dragEnterEvent(QDragEnterEvent* event) {
    const QMimeData* mime = event->mimeData();
    if (editor_.isOpen() && (mime->hasFormat(kItemMime) || mime->hasFormat(kSurfaceMime) || !imageFile(mime).isEmpty()))
        event->acceptProposedAction();
}

/// The slot of the object under a pixel.
std::optional<ViewWidget::SlotUnder> ViewWidget::slotUnder(const QPointF& pixel) const {
    const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pixel), viewport()), true);
    if (!hit) return std::nullopt;
    const shape::Mesh* mesh = editor_.workspace().mesh(editor_.scene().item(hit->slot));
    if (mesh == nullptr) return std::nullopt;
    return SlotUnder{hit->slot, shape::slotOfTriangle(*mesh, hit->triangle)};
}

void ViewWidget::dragMoveEvent(QDragMoveEvent* event) {
    if (!event->mimeData()->hasFormat(kItemMime)) {
        dropOn_ = slotUnder(event->position());
        event->setAccepted(dropOn_.has_value());
        editor_.setHint(dropOn_ ? tr("Let go: on this part of the object · Ctrl: on all its parts · Esc: do not")
                                : tr("Nothing here takes it"));
        return update();
    }
    const std::string item = event->mimeData()->data(kItemMime).toStdString();
    const auto place = landingUnder(event->position());
    setGhost(place ? std::optional(Ghost{item, *place}) : std::nullopt);
    event->setAccepted(place.has_value());
    editor_.setHint(place ? tr("Let go: place it here · Esc: do not") : tr("Nothing to stand on here"));
}

void ViewWidget::dragLeaveEvent(QDragLeaveEvent*) {
    setGhost(std::nullopt);
    dropOn_.reset();
    updateHint();
    update();
}

void ViewWidget::dropEvent(QDropEvent* event) {
    const auto on = std::exchange(dropOn_, std::nullopt);
    const bool all = (event->modifiers() & Qt::ControlModifier) != 0;
    if (event->mimeData()->hasFormat(kSurfaceMime)) {
        const std::string surface = event->mimeData()->data(kSurfaceMime).toStdString();
        if (on) dropOnSlot(*on, all, "Surface", [&](model::SlotSurface& s) { s.surface = surface; });
    } else if (const QString file = imageFile(event->mimeData()); !file.isEmpty()) {
        if (on) dropImage(*on, all, file);
    } else {
        const std::string item = event->mimeData()->data(kItemMime).toStdString();
        setGhost(std::nullopt);
        if (const auto place = landingUnder(event->position()); place && editor_.placeAt(item, *place))
            event->acceptProposedAction();
    }
    updateHint();
    update();
    setFocus();
}

void ViewWidget::dropOnSlot(const SlotUnder& on, bool all, const std::string& what,
                            const std::function<void(model::SlotSurface&)>& edit,
                            const std::function<base::Status(edit::Draft&)>& first) {
    const model::Scene& scene = editor_.scene();
    const base::ObjectId id = scene.id(on.object);
    const model::Item* item = editor_.session().library().item(scene.item(on.object));
    if (item == nullptr || on.slot >= item->slots.size()) return;
    const std::vector<std::string> names = all ? item->slots : std::vector{item->slots[on.slot]};
    editor_.run(what + " on " + ops::describe(scene, {&id, 1}), [&](edit::Draft& draft) -> base::Status {
        if (base::Status done = first ? first(draft) : base::Status{}; !done) return done;
        for (const std::string& name : names)
            if (base::Status done = ops::setSlot(draft, {&id, 1}, name, edit); !done) return done;
        return {};
    });
}

namespace {

/// The image, at most kLargestImage pixels each way, as the bytes of a file of the same sort. Any thread. Errors:
/// BadInput for what is no image.
base::Result<std::string> smallerCopy(const QString& file, const io::ImageHead& head) {
    QImageReader reader(file);
    reader.setScaledSize(QSize(head.width, head.height).scaled(kLargestImage, kLargestImage, Qt::KeepAspectRatio));
    const QImage image = reader.read();
    if (image.isNull())
        return base::fail(base::ErrorCode::BadInput,
                          (file + ": no smaller copy can be made of it: " + reader.errorString()).toStdString() + ".");
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, QFileInfo(file).suffix().toLower().startsWith("png") ? "PNG" : "JPG", 90);
    return bytes.toStdString();
}

}  // namespace

/// The image's bytes come into the project, as one step with the slot that shows it.
void ViewWidget::useImage(base::ObjectId object, std::size_t slot, bool all, const QString& file,
                          const base::Result<std::string>& bytes) {
    if (!bytes) return (void)editor_.report(tl::unexpected(bytes.error()));
    const Slot at = editor_.isOpen() ? editor_.scene().find(object) : kNoSlot;
    if (at == kNoSlot)
        return editor_.say(tr("The object that was to show %1 is gone.").arg(QFileInfo(file).fileName()));
    std::string added;
    dropOnSlot(
        {at, slot}, all, "Image",
        [&](model::SlotSurface& s) {
            s.image = added;
            if (s.fit == model::ImageFit::Tile) s.fit = model::ImageFit::Fill;
        },
        [&](edit::Draft& draft) -> base::Status {
            auto media = io::addMedia(draft, QFileInfo(file).fileName().toStdString(), *bytes);
            if (!media) return tl::unexpected(media.error());
            added = *media;
            return {};
        });
}

/// Reading one of many millions of pixels takes seconds: the window goes on meanwhile.
void ViewWidget::useSmallerCopy(base::ObjectId object, std::size_t slot, bool all, const QString& file,
                                const io::ImageHead& head) {
    editor_.say(tr("A smaller copy of %1 is being made …").arg(QFileInfo(file).fileName()));
    QThreadPool::globalInstance()->start([view = QPointer(this), object, slot, all, file, head] {
        auto bytes = std::make_shared<base::Result<std::string>>(smallerCopy(file, head));
        QMetaObject::invokeMethod(
            qApp,
            [=] {
                if (view) view->useImage(object, slot, all, file, *bytes);
            },
            Qt::QueuedConnection);
    });
}

/// A file from outside comes into the project once; of a very large one a smaller copy is offered.
void ViewWidget::dropImage(const SlotUnder& on, bool all, const QString& file) {
    const auto head = io::readImageHead(file.toStdString(), io::kMostPixelsRead);
    if (!head) return (void)editor_.report(tl::unexpected(head.error()));
    const base::ObjectId object = editor_.scene().id(on.object);
    auto whole = [this, object, slot = on.slot, all, file] {
        if (!QImageReader(file).canRead())
            return useImage(object, slot, all, file,
                            base::fail(base::ErrorCode::BadInput,
                                       file.toStdString() + ": this is no PNG or JPEG image that can be read."));
        useImage(object, slot, all, file, base::readFile(file.toStdString(), base::most::kTable));
    };
    if (std::max(head->width, head->height) <= kLargestImage) return whole();
    const bool fits = double(head->width) * head->height <= io::kMostPixels;
    auto* question =
        new QMessageBox(QMessageBox::Question, tr("A large image"),
                        tr("%1 is %2 × %3 pixels.").arg(QFileInfo(file).fileName()).arg(head->width).arg(head->height),
                        QMessageBox::Cancel, this);
    question->setObjectName("largeImage");
    question->setAttribute(Qt::WA_DeleteOnClose);
    question->setInformativeText(
        (fits ? tr("A copy of at most %1 pixels costs less memory and looks the same from a few metres.")
              : tr("That is more than a scene can hold. A copy of at most %1 pixels looks the same from a few metres."))
            .arg(kLargestImage));
    QPushButton* smaller = question->addButton(tr("Use a smaller copy"), QMessageBox::AcceptRole);
    QPushButton* asItIs = fits ? question->addButton(tr("Use it as it is"), QMessageBox::ActionRole) : nullptr;
    question->setDefaultButton(smaller);
    connect(question, &QMessageBox::buttonClicked, this,
            [=, this, slot = on.slot, head = *head](QAbstractButton* pressed) {
                if (asItIs != nullptr && pressed == asItIs) whole();
                if (pressed == smaller) useSmallerCopy(object, slot, all, file, head);
            });
    question->open();
}

/// The part of the object that would take what is dragged.
void ViewWidget::paintDropOn(QPainter& p) const {
    if (!dropOn_ || !editor_.scene().alive(dropOn_->object)) return;
    const shape::Mesh* mesh = editor_.workspace().mesh(editor_.scene().item(dropOn_->object));
    if (mesh == nullptr) return;
    constexpr std::uint32_t kMostTriangles = 3000;
    const base::Affine& world = editor_.scene().world(dropOn_->object);
    QPainterPath lit;
    lit.setFillRule(Qt::WindingFill);
    std::uint32_t drawn = 0;
    for (const shape::Submesh& part : mesh->submeshes) {
        if (part.material != dropOn_->slot) continue;
        for (std::uint32_t t = part.firstIndex / 3;
             t < (part.firstIndex + part.indexCount) / 3 && drawn < kMostTriangles; ++t, ++drawn) {
            QPolygonF corners;
            for (std::size_t k = 0; k < 3; ++k)
                if (const auto at = camera_.project(world.point(shape::cornerOf(*mesh, t, k)), viewport()))
                    corners << toQt(*at);
            if (corners.size() == 3) lit.addPolygon(corners);
        }
    }
    QColor fill = editor_.theme().honey;
    fill.setAlpha(90);
    p.setPen(Qt::NoPen);
    p.setBrush(fill);
    p.drawPath(lit);
    p.setBrush(Qt::NoBrush);
    const model::Item* item = editor_.session().library().item(editor_.scene().item(dropOn_->object));
    if (item != nullptr && dropOn_->slot < item->slots.size())
        paintNote(p, lit.boundingRect().topLeft() + QPointF(4, -4), QString::fromStdString(item->slots[dropOn_->slot]));
}

}  // namespace app
