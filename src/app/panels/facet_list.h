#pragma once
// A facet's list of other objects, of one object: the acts it is in, the zones a camera watches, what a use moves. More
// are pointed at in the view.
#include <functional>

#include "app/panels/parts_form.h"
#include "app/shell/editor.h"

namespace app {

class FacetList : public QWidget {
    Q_OBJECT
  public:
    struct Way {
        const char* member;                                          ///< the list
        const char* link;                                            ///< of each part: the object it is about
        std::function<bool(const model::Scene&, model::Slot)> fits;  ///< may be pointed at; empty: nothing may
        std::function<QString(const model::Scene&, const void* part)> more = {};  ///< said after the object's name
        bool hasFields = false;                                                   ///< a part is more than its link
        bool isOrdered = false;                                                   ///< their order means something
        const char* name = "";  ///< of one beside another of the same facet
    };
    FacetList(Editor& editor, const model::FacetType& type, Way way, QWidget* parent = nullptr);
    /// Zero: nothing is selected alone.
    void show(base::ObjectId id);

  private:
    base::ObjectId linked(const void* part) const;
    base::Status change(const std::string& what, const std::function<base::Status(void*)>& set);
    void point();

    Editor& editor_;
    const model::FacetType& type_;
    Way way_;
    const model::Member& list_;
    const model::Member& link_;
    PartsForm* parts_;
    base::ObjectId id_;
    std::shared_ptr<const void> shown_;  // shared with the list
};

}  // namespace app
