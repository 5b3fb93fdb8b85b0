#include "app/view/drops.h"

#include <QBuffer>
#include <QFileInfo>
#include <QImageReader>
#include <QMessageBox>
#include <QMimeData>
#include <QPainterPath>
#include <QPointer>
#include <QPushButton>
#include <QThreadPool>
#include <QUrl>

#include "app/names.h"
#include "app/panels/sounds_panel.h"
#include "app/panels/surfaces_panel.h"
#include "edit/session.h"
#include "io/media.h"
#include "io/workspace.h"
#include "model/library.h"
#include "ops/objects.h"
#include "ops/solid_edit.h"
#include "ops/sounds.h"
#include "ops/surfaces.h"
#include "shape/dress.h"

namespace app {

namespace {

constexpr int kLargestImage = 2048;  // pixels; above it a smaller copy is offered

QString imageFile(const QMimeData* data) {
    if (!data->hasUrls() || data->urls().size() != 1) return {};
    const QString file = data->urls().front().toLocalFile();
    const QString ending = QFileInfo(file).suffix().toLower();
    return ending == "png" || ending == "jpg" || ending == "jpeg" ? file : QString();
}

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

bool Drops::takes(const QMimeData& data) const {
    return editor_.isOpen() && (data.hasFormat(kItemMime) || data.hasFormat(kSurfaceMime) ||
                                data.hasFormat(kSoundMime) || !imageFile(&data).isEmpty());
}

/// The slot of the object under a pixel.
std::optional<Drops::SlotUnder> Drops::slotUnder(const QPointF& pixel) const {
    const auto hit = editor_.surfaceUnder(view_.rayAt(pixel), true);
    if (!hit) return std::nullopt;
    const shape::Mesh* mesh = editor_.workspace().mesh(editor_.scene().item(hit->slot));
    if (mesh == nullptr) return std::nullopt;
    return SlotUnder{hit->slot, shape::slotOfTriangle(*mesh, hit->triangle)};
}

bool Drops::over(const QDropEvent& event) {
    view_.update();
    if (event.mimeData()->hasFormat(kSoundMime)) {
        const bool lands = view_.landingAt(event.position()).has_value();
        editor_.setHint(lands ? tr("Let go: it is heard from here · Esc: do not") : tr("Nothing to stand on here"));
        return lands;
    }
    if (!event.mimeData()->hasFormat(kItemMime)) {
        on_ = slotUnder(event.position());
        editor_.setHint(on_ ? tr("Let go: on this part of the object · Ctrl: on all its parts · Esc: do not")
                            : tr("Nothing here takes it"));
        return on_.has_value();
    }
    const std::string item = event.mimeData()->data(kItemMime).toStdString();
    const auto place = view_.landingAt(event.position());
    view_.setGhost(place ? std::optional(view_.ghostAt(item, *place)) : std::nullopt);
    editor_.setHint(place ? tr("Let go: place it here · Esc: do not") : tr("Nothing to stand on here"));
    return place.has_value();
}

void Drops::leave() {
    view_.setGhost(std::nullopt);
    on_.reset();
    Q_EMIT view_.hintStale();
    view_.update();
}

bool Drops::drop(const QDropEvent& event) {
    const auto on = on_;
    leave();
    const bool all = (event.modifiers() & Qt::ControlModifier) != 0;
    if (event.mimeData()->hasFormat(kSurfaceMime)) {
        const std::string surface = event.mimeData()->data(kSurfaceMime).toStdString();
        if (on && !all && dropOnFace(event.position(), on->object, surface)) return true;
        return on && dropOnSlot(*on, all, "Surface", [&](model::SlotSurface& s) { s.surface = surface; });
    }
    if (const QString file = imageFile(event.mimeData()); !file.isEmpty()) {
        if (on) dropImage({editor_.scene().id(on->object), on->slot, all, file});
        return on.has_value();
    }
    const auto place = view_.landingAt(event.position());
    if (event.mimeData()->hasFormat(kSoundMime))
        return place && placeSound(event.mimeData()->data(kSoundMime).toStdString(), place->point);
    return place && editor_.place({view_.ghostAt(event.mimeData()->data(kItemMime).toStdString(), *place)});
}

/// A metre above what it lands on: as high as one's ears, nearly.
bool Drops::placeSound(const std::string& file, const base::Vec3& place) {
    base::ObjectId made;
    const bool done = editor_.run("Place a sound", [&](edit::Draft& draft) -> base::Status {
        auto id = ops::addSound(draft, file, place + base::Vec3(0, 1, 0), editor_.entered());
        if (!id) return tl::unexpected(id.error());
        made = *id;
        return {};
    });
    if (done) editor_.select({made});
    return done;
}

/// A surface on the face of a solid that one sees there. False: it is no solid.
bool Drops::dropOnFace(const QPointF& pixel, Slot object, const std::string& surface) {
    const base::ObjectId id = editor_.scene().id(object);
    const auto pieces = ops::piecesOf(editor_.scene(), id);
    const auto into = base::inverse(editor_.scene().world(object));
    if (!pieces || !into) return false;
    const base::Ray ray = view_.rayAt(pixel);
    const auto face = ops::partAt(*pieces, {into->point(ray.origin), into->direction(ray.direction)}, 0);
    return face && editor_.run("Surface on a face of " + ops::describe(editor_.scene(), {&id, 1}),
                               [&](edit::Draft& draft) { return ops::setFaceSurface(draft, id, face->tag, surface); });
}

bool Drops::dropOnSlot(const SlotUnder& on, bool all, const std::string& what,
                       const std::function<void(model::SlotSurface&)>& edit,
                       const std::function<base::Status(edit::Draft&)>& first) {
    const model::Scene& scene = editor_.scene();
    const base::ObjectId id = scene.id(on.object);
    const model::Item* item = editor_.session().library().item(scene.item(on.object));
    if (item == nullptr || on.slot >= item->slots.size()) return false;
    const std::vector<std::string> names = all ? item->slots : std::vector{item->slots[on.slot]};
    return editor_.run(what + " on " + ops::describe(scene, {&id, 1}), [&](edit::Draft& draft) -> base::Status {
        if (base::Status done = first ? first(draft) : base::Status{}; !done) return done;
        for (const std::string& name : names)
            if (base::Status done = ops::setSlot(draft, {&id, 1}, name, edit); !done) return done;
        return {};
    });
}

/// The image's bytes come into the project, as one step with the slot that shows it.
void Drops::useImage(const ImageOn& on, const base::Result<std::string>& bytes) {
    if (!bytes) return (void)editor_.report(tl::unexpected(bytes.error()));
    const QString name = QFileInfo(on.file).fileName();
    const Slot at = editor_.isOpen() ? editor_.scene().find(on.object) : kNoSlot;
    if (at == kNoSlot) return editor_.say(tr("The object that was to show %1 is gone.").arg(name));
    std::string added;
    dropOnSlot(
        {at, on.slot}, on.all, "Image",
        [&](model::SlotSurface& s) {
            s.image = added;
            if (s.fit == model::ImageFit::Tile) s.fit = model::ImageFit::Fill;
        },
        [&](edit::Draft& draft) -> base::Status {
            auto media = io::addMedia(draft, name.toStdString(), *bytes);
            if (!media) return tl::unexpected(media.error());
            added = *media;
            return {};
        });
}

void Drops::useAsItIs(const ImageOn& on) {
    if (!QImageReader(on.file).canRead())
        return useImage(on, base::fail(base::ErrorCode::BadInput,
                                       on.file.toStdString() + ": this is no PNG or JPEG image that can be read."));
    useImage(on, base::readFile(on.file.toStdString(), base::most::kTable));
}

/// Reading one of many millions of pixels takes seconds: the window goes on meanwhile.
void Drops::useSmallerCopy(const ImageOn& on, const io::ImageHead& head) {
    editor_.say(tr("A smaller copy of %1 is being made …").arg(QFileInfo(on.file).fileName()));
    QThreadPool::globalInstance()->start([drops = QPointer(this), on, head] {
        auto bytes = std::make_shared<base::Result<std::string>>(smallerCopy(on.file, head));
        QMetaObject::invokeMethod(
            qApp,
            [=] {
                if (drops) drops->useImage(on, *bytes);
            },
            Qt::QueuedConnection);
    });
}

/// A file from outside comes into the project once; of a very large one a smaller copy is offered.
void Drops::dropImage(const ImageOn& on) {
    const auto head = io::readImageHead(on.file.toStdString(), io::kMostPixelsRead);
    if (!head) return (void)editor_.report(tl::unexpected(head.error()));
    if (std::max(head->width, head->height) <= kLargestImage) return useAsItIs(on);
    askSize(on, *head);
}

void Drops::askSize(const ImageOn& on, const io::ImageHead& head) {
    const bool fits = double(head.width) * head.height <= io::kMostPixels;
    auto* question =
        new QMessageBox(QMessageBox::Question, tr("A large image"),
                        tr("%1 is %2 × %3 pixels.").arg(QFileInfo(on.file).fileName()).arg(head.width).arg(head.height),
                        QMessageBox::Cancel, &view_.widget);
    question->setObjectName("largeImage");
    question->setAttribute(Qt::WA_DeleteOnClose);
    question->setInformativeText(
        (fits ? tr("A copy of at most %1 pixels costs less memory and looks the same from a few metres.")
              : tr("That is more than a scene can hold. A copy of at most %1 pixels looks the same from a few metres."))
            .arg(kLargestImage));
    QPushButton* smaller = question->addButton(tr("Use a smaller copy"), QMessageBox::AcceptRole);
    QPushButton* asItIs = fits ? question->addButton(tr("Use it as it is"), QMessageBox::ActionRole) : nullptr;
    question->setDefaultButton(smaller);
    connect(question, &QMessageBox::buttonClicked, this, [this, asItIs, smaller, on, head](QAbstractButton* pressed) {
        if (asItIs != nullptr && pressed == asItIs) useAsItIs(on);
        if (pressed == smaller) useSmallerCopy(on, head);
    });
    question->open();
}

/// The part of the object that would take what is dragged.
void Drops::paint(QPainter& p) const {
    if (!on_ || !editor_.scene().alive(on_->object)) return;
    const shape::Mesh* mesh = editor_.workspace().mesh(editor_.scene().item(on_->object));
    if (mesh == nullptr) return;
    constexpr std::uint32_t kMostTriangles = 3000;
    const base::Affine& world = editor_.scene().world(on_->object);
    QPainterPath lit;
    lit.setFillRule(Qt::WindingFill);
    std::uint32_t drawn = 0;
    for (const shape::Submesh& part : mesh->submeshes) {
        if (part.material != on_->slot) continue;
        for (std::uint32_t t = part.firstIndex / 3;
             t < (part.firstIndex + part.indexCount) / 3 && drawn < kMostTriangles; ++t, ++drawn) {
            QPolygonF corners;
            for (std::size_t k = 0; k < 3; ++k)
                if (const auto at = view_.pixelOf(world.point(shape::cornerOf(*mesh, t, k)))) corners << *at;
            if (corners.size() == 3) lit.addPolygon(corners);
        }
    }
    QColor fill = editor_.theme().honey;
    fill.setAlpha(90);
    p.setPen(Qt::NoPen);
    p.setBrush(fill);
    p.drawPath(lit);
    p.setBrush(Qt::NoBrush);
    const model::Item* item = editor_.session().library().item(editor_.scene().item(on_->object));
    if (item != nullptr && on_->slot < item->slots.size())
        view_.note(p, lit.boundingRect().topLeft() + QPointF(4, -4), QString::fromStdString(item->slots[on_->slot]));
}

}  // namespace app
