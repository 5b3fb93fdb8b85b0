// What objects look like by what they are: variations and tints of their kinds, surfaces in their slots.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include <QBuffer>
#include <QImage>
#include <QPainter>

#include "app/names.h"
#include "app/shell/scripts.h"
#include "app/view/looks.h"
#include "app/view/stage.h"
#include "base/files.h"
#include "edit/session.h"
#include "io/added.h"
#include "io/image_head.h"
#include "io/workspace.h"
#include "model/facets/surfaces.h"
#include "query/looks.h"

namespace app {

namespace {

shape::Image encoded(const QImage& image) {
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return {"image/png", bytes.toStdString()};
}

/// What is shown where an image is not: slanting bands that go on from tile to tile, and the word.
QImage missingImage() {
    constexpr int kSide = 256, kBand = 32;
    QImage image(kSide, kSide, QImage::Format_RGB32);
    QPainter p(&image);
    p.fillRect(image.rect(), QColor(0xef, 0xe9, 0xdb));
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(0xd9, 0x5c, 0x7c));
    for (int x = -kSide; x < kSide; x += 2 * kBand)
        p.drawPolygon(QPolygonF(
            {QPointF(x, kSide), QPointF(x + kBand, kSide), QPointF(x + kBand + kSide, 0), QPointF(x + kSide, 0)}));
    QFont font = p.font();
    font.setPixelSize(38);
    font.setWeight(QFont::DemiBold);
    p.setFont(font);
    const QRectF plate(18, kSide / 2 - 30, kSide - 36, 60);
    p.setBrush(QColor(0xef, 0xe9, 0xdb));
    p.drawRoundedRect(plate, 8, 8);
    p.setPen(QColor(0x7d, 0x1d, 0x3a));
    p.drawText(plate, Qt::AlignCenter, QObject::tr("missing"));
    return image;
}

/// With margins, or without what would be too much, so that stretching it over a face of that shape keeps it true.
QImage shapedTo(const QImage& image, model::ImageFit fit, double aspect) {
    if (fit != model::ImageFit::Fit && fit != model::ImageFit::Fill) return image;
    const double own = static_cast<double>(image.width()) / std::max(1, image.height());
    const bool wider = own > aspect;
    if (fit == model::ImageFit::Fill) {
        const int w = wider ? std::max(1, static_cast<int>(image.height() * aspect)) : image.width();
        const int h = wider ? image.height() : std::max(1, static_cast<int>(image.width() / aspect));
        return image.copy((image.width() - w) / 2, (image.height() - h) / 2, w, h);
    }
    const int w = wider ? image.width() : static_cast<int>(std::min(8192.0, image.height() * aspect));
    const int h = wider ? static_cast<int>(std::min(8192.0, image.width() / aspect)) : image.height();
    QImage padded(std::max(1, w), std::max(1, h), QImage::Format_RGB32);
    padded.fill(Qt::white);  // the surface's own colour
    QPainter p(&padded);
    p.drawImage((w - image.width()) / 2, (h - image.height()) / 2, image);
    return padded;
}

}  // namespace

void Stage::rescanStates() {
    looks_.clear();
    badges_.clear();
    stateKinds_.clear();
    if (!editor_.isOpen()) return;
    edit::Session& session = editor_.session();
    const model::Guise* guise = editor_.guise();
    if ((guise_ != nullptr) != (guise != nullptr) || (guise != nullptr && !(*guise == *guise_))) dresses_.clear();
    guise_ = guise != nullptr ? std::make_unique<const model::Guise>(*guise) : nullptr;
    if (editor_.looks().states)
        for (const model::Kind& kind : session.library().kinds())
            if (!kind.appearances.empty()) stateKinds_[session.intern(kind.name)] = &kind;
    scriptLooks_.clear();
    if (editor_.scripts().behaviours().giveLooks()) askBehaviours(editor_.scene().subtree(kNoSlot));
    setClock();
    for (Slot s = 0; s < editor_.scene().slotEnd(); ++s) scanState(s);
    dropUnusedDresses();
}

void Stage::askBehaviours(std::span<const Slot> slots) {
    for (Slot s : slots) scriptLooks_.erase(s);
    if (editor_.looks().states)
        editor_.scripts().behaviours().looks(editor_.session(), editor_.sceneName(), slots,
                                             [this](Slot s, const script::Look& look) { scriptLooks_[s] = look; });
}

void Stage::rescanStates(const std::vector<Slot>& slots) {
    if (editor_.scripts().behaviours().giveLooks() || !scriptLooks_.empty()) askBehaviours(slots);
    for (Slot s : slots) scanState(s);
}

void Stage::scanState(Slot s) {
    const model::Scene& scene = editor_.scene();
    looks_.erase(s);
    badges_.erase(s);
    if (!scene.alive(s)) {
        dresses_.erase(s);
        return;
    }
    const model::ValueMap none;
    const model::DetailPtr& detail = scene.detail(s);
    model::Appearance is;
    if (const auto kind = stateKinds_.find(scene.kind(s)); kind != stateKinds_.end())
        is = model::appearanceOf(*kind->second, detail ? detail->properties : none, clockSeconds());
    if (const auto look = scriptLooks_.find(s); look != scriptLooks_.end()) {
        if (!look->second.item.empty()) is.item = look->second.item;
        if (look->second.tint) is.tint = look->second.tint;
        if (!look->second.badge.empty()) is.badge = look->second.badge;
        is.hides = is.hides || look->second.hides;
    }
    if (editor_.looks().states) {
        const bool absent = (scene.flagsOf(s) & model::flags::kAbsent) != 0;
        const bool unseen = (scene.flagsOf(s) & model::flags::kUnseen) != 0;
        is.hides = is.hides || absent || unseen;
        if (absent || unseen) is.badge = (absent ? tr("not there at the start") : tr("not seen in play")).toStdString();
    }
    base::Name item = is.item.empty() ? base::Name{} : editor_.session().intern(is.item);
    const bool inGuise = guise_ != nullptr && putInGuise(s, is, item);
    if (inGuise || (detail && detail->get<model::Surfaces>()) || !is.surface.empty() || !is.image.empty())
        item = dressed(s, item ? item : scene.item(s), is);
    else
        dresses_.erase(s);
    const double turned = std::fmod(is.turnsDegrees * clockSeconds(), 360.0);
    if (item || is.tint || is.hides || turned != 0) looks_[s] = {item, is.tint, is.hides, turned};
    if (!is.badge.empty()) badges_[s] = is.badge;
}

/// What the guise shows in place of what an object is. True: other surfaces, too.
bool Stage::putInGuise(Slot s, model::Appearance& is, base::Name& item) {
    const model::Scene& scene = editor_.scene();
    edit::Session& session = editor_.session();
    if (item) is.item = session.names().text(item);
    const std::string shown = query::itemInGuise(*guise_, scene, s, is, [&](const std::string& other) {
        return editor_.workspace().mesh(session.intern(other)) != nullptr;
    });
    if (item || shown != scene.itemText(s)) item = session.intern(shown);
    if (guise_->surfaces.empty()) return false;
    if (const auto* own = scene.facet<model::Surfaces>(s))
        for (const model::SlotSurface& slot : own->slots)
            if (guise_->surfaces.contains(slot.surface)) return true;
    const model::Item* model = session.library().item(item ? item : scene.item(s));
    return model != nullptr && std::any_of(model->slots.begin(), model->slots.end(),
                                           [&](const std::string& slot) { return guise_->surfaces.contains(slot); });
}

/// A mesh of its own for every combination of item and surfaces, shared by all that look so.
base::Name Stage::dressed(Slot s, base::Name item, const model::Appearance& is) {
    const model::Scene& scene = editor_.scene();
    const base::Vec3 size = scene.local(s).scale;
    if (auto held = dresses_.find(s); held != dresses_.end() && held->second.detail == scene.detail(s) &&
                                      held->second.item == item && held->second.size == size &&
                                      held->second.surface == is.surface && held->second.image == is.image)
        return held->second.shown;
    const shape::Mesh* mesh = editor_.workspace().mesh(item);
    if (mesh == nullptr) return item;
    const auto names = shape::slotNames(*mesh);
    const auto shows =
        query::slotShows(editor_.session().library(), names, query::surfacesOf(scene, s, names, is, guise_.get()));
    const base::Name shown = editor_.session().intern(
        fmt::format("=dress {}{}", editor_.session().names().text(item), query::keyOf(shows, size)));
    if (dressMeshes_.insert(shown).second || !renderer_.hasMesh(shown)) {
        std::vector<shape::SlotLook> looks;
        for (const query::SlotShow& show : shows) {
            shape::SlotLook& look = looks.emplace_back(show.look);
            if (show.wantsImage()) look.image = encoded(pictureOf(show, shape::faceAspect(*mesh, look.slot, size)));
        }
        renderer_.setMesh(shown, shape::dressed(*mesh, looks, size), {});
    }
    dresses_[s] = {scene.detail(s), item, size, shown, is.surface, is.image};
    return shown;
}

QImage Stage::pictureOf(const query::SlotShow& show, double aspect) const {
    QImage picture;
    if (!show.missing)
        if (const auto file = io::projectFile(editor_.workspace().folder(), "media/" + show.image))
            if (const auto bytes = base::readFile(*file, base::most::kTable);
                bytes && io::imageHeadOf(*bytes, show.image))
                picture = QImage::fromData(QByteArray::fromStdString(*bytes));
    if (picture.isNull()) return missingImage();
    return show.look.stretched ? shapedTo(picture, show.fit, aspect) : picture;
}

double Stage::clockSeconds() const {
    return clockSeconds_ + (clock_.isValid() ? static_cast<double>(clock_.elapsed()) / 1000 : 0);
}

/// Of the kinds that look otherwise by the clock, those that do so now are looked at again.
void Stage::tickClock() {
    // Where pictures take long it goes on less often: whoever works comes first.
    constexpr int kEveryMs = 50, kSeldomMs = 1000;
    const int late =
        static_cast<int>(tickedAt_.isValid() ? tickedAt_.restart() : (tickedAt_.start(), 0)) - clockTimer_.interval();
    clockTimer_.start(std::clamp(kEveryMs + 3 * late, kEveryMs, kSeldomMs));
    std::vector<bool> now;
    std::unordered_set<base::Name> kinds;
    bool turns = false;
    for (const auto& [name, kind] : stateKinds_)
        for (const model::Appearance& a : kind->appearances)
            if (a.moves()) {
                kinds.insert(name);
                now.push_back(model::isOn(a, clockSeconds()));
                turns = turns || a.turnsDegrees != 0;
            }
    if ((now == clockLooks_ && !turns) || !editor_.isOpen()) return;
    clockLooks_ = std::move(now);
    std::vector<Slot> slots;
    for (Slot s = 0; s < editor_.scene().slotEnd(); ++s)
        if (editor_.scene().alive(s) && kinds.contains(editor_.scene().kind(s))) slots.push_back(s);
    rescanStates(slots);
    Q_EMIT restaged(false);
}

/// It goes while something looks otherwise by it, and nobody has stopped it.
void Stage::setClock() {
    const bool moves = std::ranges::any_of(stateKinds_, [](const auto& kind) {
        return std::ranges::any_of(kind.second->appearances, [](const auto& a) { return a.moves(); });
    });
    const bool goes = moves && editor_.looks().clock;
    if (goes == clock_.isValid()) return;
    if (goes) {
        clock_.start();
        tickedAt_.invalidate();
        clockTimer_.start(50);
        return;
    }
    clockSeconds_ = clockSeconds();
    clock_.invalidate();
    clockTimer_.stop();
}

void Stage::dropUnusedDresses() {
    std::unordered_set<base::Name> used;
    for (const auto& [slot, dress] : dresses_) used.insert(dress.shown);
    std::erase_if(dressMeshes_, [&](base::Name name) {
        if (used.contains(name)) return false;
        renderer_.removeMesh(name);
        return true;
    });
}

}  // namespace app
