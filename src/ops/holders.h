#pragma once
// Which objects of each document have a facet, kept up with as they change: for what is looked at in every step.
#include <map>
#include <set>
#include <string>

#include "edit/session.h"
#include "model/facet.h"

namespace ops {

/// It may live longer than the scenes, not than the session. One thread.
class Holders {
  public:
    Holders(edit::Session& session, const model::FacetType& type);
    ~Holders();
    Holders(const Holders&) = delete;
    Holders& operator=(const Holders&) = delete;
    const std::set<base::ObjectId>& in(const model::Scene& scene);

  private:
    void hear(const edit::SceneDelta& delta);

    edit::Session& session_;
    const model::FacetType& type_;
    std::map<std::string, std::set<base::ObjectId>> known_;  // by document, once it was asked for
    int token_ = 0;
};

}  // namespace ops
