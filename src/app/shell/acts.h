#pragma once
// The acts of the scene that is shown, and which of them one looks at: what is not there in these is not shown. Looking
// is no step and is not kept; the act one works in is looked at while that lasts.
#include <QObject>
#include <set>
#include <vector>

#include "app/shell/editor.h"
#include "model/facets/act.h"

namespace app {

class Acts : public QObject {
    Q_OBJECT
  public:
    explicit Acts(Editor& editor);

    /// In the order of the scene.
    const std::vector<base::ObjectId>& all() const;
    /// Those that are looked at; none: all that there is, whatever it belongs to.
    std::set<base::ObjectId> shown() const;
    void show(std::set<base::ObjectId> acts);
    /// The only one that is looked at; zero: none or several.
    base::ObjectId only() const;
    base::ObjectId worked() const;
    /// Into an act, or out of it with zero; one step.
    void work(base::ObjectId act);
    /// Where what is selected is in an act; one step each.
    void put(base::ObjectId act, model::ActPart::Is is);
    /// What is selected stands in the act where it stands without it, and has its values.
    void putBack(base::ObjectId act);
    /// All that an act adds, takes or changes.
    void selectMembers(base::ObjectId act);
    /// A new one, which is looked at then.
    void add();
    /// Is it not there in what is looked at?
    bool isAway(model::Slot slot) const;
    void close();

  Q_SIGNALS:
    /// The acts there are, what they are called, or which of them is looked at.
    void changed();

  private:
    bool mayMatter(const edit::SceneDelta& delta) const;
    void look() const;
    void forget();

    Editor& editor_;
    std::set<base::ObjectId> wanted_;
    // What follows from the scene, looked at anew when it is asked for.
    mutable bool known_ = false;
    mutable std::vector<base::ObjectId> all_;
    mutable base::ObjectId worked_;
    mutable std::vector<bool> there_;  // by slot; empty: all is
};

}  // namespace app
