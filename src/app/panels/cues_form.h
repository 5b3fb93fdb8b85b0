#pragma once
// The cues of one object, to be changed: their list; of the chosen one its conditions, its effects, and whom they are
// done to. What a field links to is pointed at in the view.
#include <set>

#include "app/panels/parts_form.h"
#include "app/shell/editor.h"
#include "model/facets/cues.h"

namespace app {

class CuesForm : public QWidget {
    Q_OBJECT
  public:
    explicit CuesForm(Editor& editor, QWidget* parent = nullptr);
    /// Zero: nothing is selected alone.
    void show(base::ObjectId id);
    void choose(int cue) { cues_->choose(cue); }

  private:
    base::Status change(const model::Property& property, const std::function<base::Status(void*)>& set);
    PartsForm* within(PartsForm& outer, const model::Fields& fields, const char* key);
    void letPoint(FieldsForm& form, std::function<base::Status(const std::string& key, base::ObjectId to)> link);
    void pointAtTargets();
    void offerFor(const model::CueWhen& when);
    void offerFor(const model::CueThen& then);
    QString nameOf(base::ObjectId id) const;

    Editor& editor_;
    base::ObjectId id_;
    std::shared_ptr<const model::Cues> shown_;  // shared with the lists within
    PartsForm *cues_, *when_, *then_, *targets_;
};

}  // namespace app
