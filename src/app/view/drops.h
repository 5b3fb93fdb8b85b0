#pragma once
// What is dropped into a view from elsewhere: items, surfaces, sounds and images. The slot under the pointer lights up.
#include <QDropEvent>
#include <functional>

#include "app/view/view_context.h"
#include "io/image_head.h"
#include "model/facets/surfaces.h"

namespace app {

/// The kind of thing a drag from the Stock carries: the item's name, UTF-8.
inline constexpr const char* kItemMime = "application/x-mellow-item";

class Drops : public QObject {
    Q_OBJECT
  public:
    explicit Drops(ViewContext& view) : view_(view), editor_(view.editor) {}
    /// Could something of it be dropped here?
    bool takes(const QMimeData& data) const;
    /// It is over a pixel: true where it could be let go.
    bool over(const QDropEvent& event);
    void leave();
    /// True when it was taken.
    bool drop(const QDropEvent& event);
    void paint(QPainter& p) const;

  private:
    /// A slot of an object's mesh, under what is dragged.
    struct SlotUnder {
        model::Slot object;
        std::size_t slot;
    };
    /// A slot that is to show an image: by id, since it may be gone once that was read.
    struct ImageOn {
        base::ObjectId object;
        std::size_t slot;
        bool all;
        QString file;
    };
    std::optional<SlotUnder> slotUnder(const QPointF& pixel) const;
    bool dropOnFace(const QPointF& pixel, model::Slot object, const std::string& surface);
    bool dropOnSlot(const SlotUnder& on, bool all, const std::string& what,
                    const std::function<void(model::SlotSurface&)>& edit,
                    const std::function<base::Status(edit::Draft&)>& first = {});
    bool placeSound(const std::string& file, const base::Vec3& place);
    void dropImage(const ImageOn& on);
    void useImage(const ImageOn& on, const base::Result<std::string>& bytes);
    void useAsItIs(const ImageOn& on);
    void useSmallerCopy(const ImageOn& on, const io::ImageHead& head);
    void askSize(const ImageOn& on, const io::ImageHead& head);

    ViewContext& view_;
    Editor& editor_;
    std::optional<SlotUnder> on_;
};

}  // namespace app
