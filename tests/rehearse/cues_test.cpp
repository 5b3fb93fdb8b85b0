// Cues beside an interpreter that asks all of them about everything in every round: the same is told and done, in the
// same order.
#include <fmt/format.h>
#include <QtTest>

#include <map>
#include <optional>
#include <set>

#include "base/units.h"
#include "rehearse/cues.h"
#include "support/test_main.h"

namespace cues_test {

using base::ObjectId;
using model::CueThen;
using model::CueWhen;
using rehearse::CueAt;
using rehearse::CueDeed;
using rehearse::Cues;
using rehearse::CueSet;
using rehearse::CueTest;
using rehearse::Entry;
using rehearse::GoalState;
using rehearse::Party;
using rehearse::What;
using When = CueWhen::What;
using Does = CueThen::Does;

/// A world that chance moves: who is where is decided by the moment alone.
struct ChanceStage : rehearse::CueStage {
    std::uint64_t seed = 0;
    int step = 0;
    std::vector<std::string> told;

    std::uint64_t chance(std::uint64_t a, std::uint64_t b) const {
        return base::mixBits(seed * 31 + a * 7919 + b + static_cast<std::uint64_t>(step / 24) * 104729);
    }
    bool isIn(std::int32_t zone, const Party& party) const override {
        return chance(static_cast<std::uint64_t>(zone), party.walker ? 1 : 2) % 3 == 0;
    }
    std::optional<double> metresTo(const CueTest& test) const override {
        return static_cast<double>(chance(test.object.value, 77) % 6);
    }
    bool isInSight(model::Slot slot) const override { return chance(slot, 5) % 2 == 0; }
    std::int32_t thingOf(ObjectId object) const override { return static_cast<std::int32_t>(object.value % 4); }
    void tell(What what, ObjectId object, ObjectId, const std::string& note) override {
        told.push_back(fmt::format("{} {} {} {}", step, rehearse::wordOf(what), object.value, note));
    }
    void doThis(const CueDeed& deed, std::int32_t cause) override {
        told.push_back(fmt::format("{} does {} by {}", step, deed.then.words, cause));
    }
    void obey(const std::vector<bool>& acts, double seconds) override {
        std::string on;
        for (const bool act : acts) on += act ? '1' : '0';
        told.push_back(fmt::format("{} acts {} in {} s", step, on, seconds));
    }
};

/// The naive one.
class Reference {
  public:
    Reference(const CueSet& set, ChanceStage& stage) : set_(set), stage_(stage), cues_(set.cues.size()) {
        for (std::size_t c = 0; c < set.cues.size(); ++c) {
            cues_[c].armed = set.cues[c].armed;
            cues_[c].place.assign(set.cues[c].tests.size(), false);
        }
        for (const auto& goal : set.goals) goals_.push_back(goal.held ? GoalState::Held : GoalState::Set);
        for (const auto& p : set.properties) values_.push_back(p.value);
        for (std::size_t a = 0; a < set.acts.size(); ++a)
            if (set.acts[a].begins) acts_.insert(int(a));
        for (std::size_t p = 0; p < values_.size(); ++p)
            if (const auto is = inActs(p, acts_)) values_[p] = *is;
        for (std::size_t c = 0; c < set.cues.size(); ++c)
            for (std::size_t t = 0; t < set.cues[c].tests.size(); ++t)
                if (set.cues[c].tests[t].what == When::After)
                    later_.push_back({set.cues[c].tests[t].step, c, t, true, -1});
    }
    void step(int step, const std::vector<Entry>& told, bool look) {
        now_ = step;
        if (ended_) return;
        if (!begun_)
            for (std::size_t c = 0; c < cues_.size(); ++c)
                for (std::size_t t = 0; t < set_.cues[c].tests.size(); ++t)
                    if (set_.cues[c].tests[t].what == When::Start) news_.push_back({c, int(t), -1});
        look = look || !begun_;
        begun_ = true;
        for (bool any = true; any && !ended_;) {
            any = false;
            for (std::size_t i = 0; i < later_.size() && !any; ++i) {
                // The one that is due first; of those, the one that was put down first.
                std::size_t best = i;
                for (std::size_t k = 0; k < later_.size(); ++k)
                    if (later_[k].step < later_[best].step || (later_[k].step == later_[best].step && k < best))
                        best = k;
                if (later_[best].step > step) break;
                const Later due = later_[best];
                later_.erase(later_.begin() + static_cast<std::ptrdiff_t>(best));
                any = true;
                if (due.isTest)
                    news_.push_back({due.cue, int(due.part), -1});
                else
                    act(set_.cues[due.cue].deeds[due.part], due.cause);
            }
        }
        if (ended_) return;
        for (const Entry& e : told) hear(e);
        if (look)
            for (std::size_t c = 0; c < cues_.size(); ++c)
                for (std::size_t t = 0; t < set_.cues[c].tests.size(); ++t)
                    cues_[c].place[t] = isPlaced(set_.cues[c].tests[t]);
        rounds();
    }

  private:
    struct One {
        bool armed = true;
        std::int64_t count = 0;
        int last = -1;
        std::set<int> latched, was;
        std::vector<bool> place;
    };
    struct Later {
        int step;
        std::size_t cue, part;
        bool isTest;
        int cause;
    };
    struct News {
        std::size_t cue;
        int test;
        int cause;
    };

    bool isPlaced(const CueTest& t) const {
        if (t.what == When::Inside) return t.zone >= 0 && stage_.isIn(t.zone, t.party);
        if (t.what == When::Unseen) return !stage_.isInSight(t.slot);
        if (t.what == When::Nearer) return *stage_.metresTo(t) < t.metres;
        return t.what == When::Farther && *stage_.metresTo(t) > t.metres;
    }
    void hear(const Entry& e) {
        static const std::map<What, When> kHeard = {
            {What::Used, When::Used},      {What::Taken, When::Taken},    {What::PutDown, When::PutDown},
            {What::Thrown, When::PutDown}, {What::Bumped, When::Bumped},  {What::Passed, When::Passed},
            {What::Lapped, When::Passed},  {What::Entered, When::Enters}, {What::Left, When::Leaves}};
        const auto heard = kHeard.find(e.what);
        if (heard == kHeard.end()) return;
        const bool zone = e.what == What::Entered || e.what == What::Left;
        const int who = zone && e.other ? stage_.thingOf(e.other) : -1;
        for (std::size_t c = 0; c < cues_.size(); ++c)
            for (std::size_t t = 0; t < set_.cues[c].tests.size(); ++t) {
                const CueTest& test = set_.cues[c].tests[t];
                if (test.what == heard->second && test.object == e.object && (!zone || test.party.has(who)))
                    news_.push_back({c, int(t), who});
            }
    }
    bool isSo(std::size_t c, std::size_t t) const {
        const CueTest& test = set_.cues[c].tests[t];
        switch (test.what) {
            case When::Inside:
            case When::Nearer:
            case When::Farther:
            case When::Unseen: return cues_[c].place[t];
            case When::Met: return test.goal >= 0 && goals_[std::size_t(test.goal)] == GoalState::Met;
            default: break;
        }
        if (test.property < 0) return false;
        const auto is = std::get<std::int64_t>(values_[std::size_t(test.property)].data),
                   than = std::get<std::int64_t>(test.value.data);
        return test.what == When::Is ? is == than : test.what == When::Above ? is > than : is < than;
    }
    void rounds() {
        std::vector<News> going;
        std::vector<std::string> whys;
        for (int round = 0; !ended_; ++round) {
            const std::vector<News> happened = std::exchange(news_, {});
            std::vector<News> next;
            std::vector<std::string> nextWhys;
            for (std::size_t c = 0; c < cues_.size(); ++c) consider(c, happened, next, nextWhys);
            if (next.empty() && round > 0) return;
            if (round == 64) {
                if (!going.empty())
                    stage_.tell(What::Endless, set_.cues[going[0].cue].object, {}, set_.cues[going[0].cue].name);
                for (const News& g : going) cues_[g.cue].armed = false;
                news_.clear();
                return;
            }
            going = next;
            whys = nextWhys;
            for (std::size_t i = 0; i < going.size() && !ended_; ++i) goOff(going[i], whys[i]);
            if (going.empty()) return;
        }
    }
    void consider(std::size_t c, const std::vector<News>& happened, std::vector<News>& next,
                  std::vector<std::string>& whys) {
        One& is = cues_[c];
        const CueAt& cue = set_.cues[c];
        const bool may =
            is.armed && (cue.times == 0 || is.count < cue.times) && (is.last < 0 || now_ - is.last >= cue.rest);
        std::set<int> now;
        int cause = -1;
        bool setOff = false;
        for (const News& n : happened)
            if (n.cue == c) {
                if (n.test < 0)
                    setOff = true;
                else
                    now.insert(n.test);
                cause = n.cause;
            }
        if (!is.armed) return;
        std::set<int> so, happenings;
        std::size_t states = 0;
        for (std::size_t t = 0; t < cue.tests.size(); ++t)
            if (cue.tests[t].what < When::Inside)
                happenings.insert(int(t));
            else if (++states; isSo(c, t))
                so.insert(int(t));
        const bool all = so.size() == states;
        std::set<int> why;
        const std::set<int> was = std::exchange(is.was, so);
        if (may && setOff) {
            next.push_back({c, 0, cause});
            whys.push_back("set off");
            return;
        }
        if (cue.any) {
            if (may) why = now;
            for (const int t : so)
                if (!was.contains(t)) why.insert(t);
        } else if (happenings.empty()) {
            if (all && was.size() < states) why = so;
        } else if (all && may) {
            is.latched.insert(now.begin(), now.end());
            if (is.latched == happenings) {
                why = happenings;
                why.insert(so.begin(), so.end());
            }
        }
        if (why.empty() || !may) return;
        std::string text;
        for (const int t : why) text += (text.empty() ? "" : "; ") + cue.tests[std::size_t(t)].text;
        next.push_back({c, 0, cause});
        whys.push_back(text);
    }
    void goOff(const News& going, const std::string& why) {
        One& is = cues_[going.cue];
        const CueAt& cue = set_.cues[going.cue];
        ++is.count;
        is.last = now_;
        is.latched.clear();
        stage_.tell(What::WentOff, cue.object, {}, cue.name + ": " + why);
        for (std::size_t c = 0; c < cues_.size(); ++c)
            for (std::size_t t = 0; t < set_.cues[c].tests.size(); ++t) {
                const auto& heard = set_.cues[c].tests[t].cues;
                if (std::count(heard.begin(), heard.end(), int(going.cue)) > 0)
                    news_.push_back({c, int(t), going.cause});
            }
        for (std::size_t d = 0; d < cue.deeds.size() && !ended_; ++d) {
            if (cue.deeds[d].delay > 0)
                later_.push_back({now_ + cue.deeds[d].delay, going.cue, d, false, going.cause});
            else
                act(cue.deeds[d], going.cause);
        }
    }
    /// What acts give a property while these go on; nothing: none has to do with it.
    std::optional<model::Value> inActs(std::size_t p, const std::set<int>& on) const {
        std::optional<model::Value> is;
        for (const auto& member : set_.members) {
            for (const auto& [property, usual] : member.values)
                if (property == int(p)) is = usual;
            for (const auto& part : member.parts)
                for (const auto& [property, there] : part.values)
                    if (property == int(p) && on.contains(part.act)) is = there;
        }
        return is;
    }
    void actsAre(const CueDeed& deed) {
        const std::set<int> before = acts_;
        for (const int act : deed.acts) {
            const bool begins = deed.then.does == Does::ActBegins;
            if (begins ? !acts_.insert(act).second : acts_.erase(act) == 0) continue;
            stage_.tell(begins ? What::ActBegan : What::ActEnded, set_.acts[std::size_t(act)].object, {}, {});
        }
        if (acts_ == before) return;
        for (std::size_t p = 0; p < values_.size(); ++p) {
            const auto is = inActs(p, acts_);
            if (!is || is == inActs(p, before) || *is == values_[p]) continue;
            values_[p] = *is;
            stage_.tell(What::Became, set_.properties[p].object, {},
                        fmt::format("a = {}", std::get<std::int64_t>(is->data)));
        }
        std::vector<bool> on;
        for (std::size_t a = 0; a < set_.acts.size(); ++a) on.push_back(acts_.contains(int(a)));
        stage_.obey(on, deed.then.seconds);
    }
    void act(const CueDeed& deed, int cause) {
        if (deed.then.isOfActs()) return actsAre(deed);
        for (std::size_t i = 0; deed.then.does == Does::Set && i < deed.targets.size(); ++i) {
            const auto p = std::size_t(deed.properties[i]);
            model::Value to = deed.then.value == "= a + 1" ? model::Value{std::get<std::int64_t>(values_[p].data) + 1}
                                                           : deed.values[i];
            if (to == values_[p]) continue;
            values_[p] = to;
            stage_.tell(What::Became, set_.properties[p].object, {},
                        fmt::format("a = {}", std::get<std::int64_t>(to.data)));
        }
        const std::map<Does, std::pair<GoalState, What>> goals = {
            {Does::GoalSet, {GoalState::Set, What::GoalSet}},
            {Does::GoalMet, {GoalState::Met, What::GoalMet}},
            {Does::GoalMissed, {GoalState::Missed, What::GoalMissed}}};
        if (const auto goal = goals.find(deed.then.does); goal != goals.end())
            for (const auto g : deed.goals) {
                GoalState& is = goals_[std::size_t(g)];
                if (is == goal->second.first || is == GoalState::Met || is == GoalState::Missed) continue;
                is = goal->second.first;
                stage_.tell(goal->second.second, set_.goals[std::size_t(g)].object, {},
                            set_.goals[std::size_t(g)].words);
            }
        if (deed.then.does == Does::Arm || deed.then.does == Does::Disarm)
            for (const auto c : deed.cues) {
                One& is = cues_[std::size_t(c)];
                const bool armed = deed.then.does == Does::Arm;
                if (is.armed == armed) continue;
                is.armed = armed;
                is.latched.clear();
                is.was.clear();
                stage_.tell(armed ? What::Armed : What::Disarmed, set_.cues[std::size_t(c)].object, {},
                            set_.cues[std::size_t(c)].name);
            }
        if (deed.then.does == Does::SetOff)
            for (const auto c : deed.cues) news_.push_back({std::size_t(c), -1, cause});
        if (deed.then.does == Does::Won || deed.then.does == Does::Lost) {
            ended_ = true;
            stage_.tell(deed.then.does == Does::Won ? What::Won : What::Lost, {}, {}, deed.then.next);
        }
        for (const auto& [property, to] : deed.then.does == Does::Outfit ? deed.worn : rehearse::CueDeed{}.worn) {
            const auto p = std::size_t(property);
            if (to == values_[p]) continue;
            values_[p] = to;
            stage_.tell(What::Became, set_.properties[p].object, {},
                        fmt::format("a = {}", std::get<std::int64_t>(to.data)));
        }
        if (deed.then.does == Does::Message || deed.then.does == Does::Outfit) stage_.doThis(deed, cause);
    }

    const CueSet& set_;
    ChanceStage& stage_;
    int now_ = 0;
    bool begun_ = false, ended_ = false;
    std::vector<One> cues_;
    std::vector<GoalState> goals_;
    std::vector<model::Value> values_;
    std::set<int> acts_;
    std::vector<Later> later_;
    std::vector<News> news_;
};

CueTest chanceTest(base::Random& random, std::size_t cues) {
    CueTest test;
    test.what = static_cast<When>(random.next() % 18);
    test.text = fmt::format("c{}", random.next() % 100);
    test.object = ObjectId{1 + random.next() % 3};
    test.slot = static_cast<model::Slot>(random.next() % 5);
    test.zone = static_cast<std::int32_t>(random.next() % 3);
    test.party.walker = random.next() % 2 == 0;
    if (random.next() % 2 == 0) test.party.things = {0, 2};
    test.metres = static_cast<double>(random.next() % 6);
    test.step = static_cast<int>(random.next() % 60);
    test.property =
        test.what >= When::Is && test.what <= When::Below ? static_cast<std::int32_t>(random.next() % 3) : -1;
    test.value = model::Value{static_cast<std::int64_t>(random.next() % 4)};
    test.goal = static_cast<std::int32_t>(random.next() % 3);
    if (test.what == When::Cue) test.cues = {static_cast<std::int32_t>(random.next() % cues)};
    return test;
}

CueDeed chanceDeed(base::Random& random, std::size_t cues) {
    static constexpr Does kDoes[] = {Does::Set,        Does::Set,       Does::Message, Does::GoalSet, Does::GoalMet,
                                     Does::GoalMissed, Does::Arm,       Does::Disarm,  Does::SetOff,  Does::Set,
                                     Does::ActBegins,  Does::ActBegins, Does::ActEnds, Does::Outfit};
    CueDeed deed;
    deed.then.does = random.next() % 40 == 0 ? Does::Won : kDoes[random.next() % std::size(kDoes)];
    deed.then.words = fmt::format("w{}", random.next() % 100);
    deed.delay = random.next() % 3 == 0 ? static_cast<int>(random.next() % 20) : 0;
    const auto p = static_cast<std::int32_t>(random.next() % 3);
    deed.targets = {static_cast<model::Slot>(p)};
    deed.properties = {p};
    deed.values = {model::Value{static_cast<std::int64_t>(random.next() % 4)}};
    if (random.next() % 3 == 0) deed.then.value = "= a + 1";
    if (deed.then.does == Does::Outfit) deed.worn = {{p, deed.values[0]}, {(p + 1) % 3, deed.values[0]}};
    if (deed.then.does == Does::Arm || deed.then.does == Does::Disarm || deed.then.does == Does::SetOff)
        deed.cues = {static_cast<std::int32_t>(random.next() % cues)};
    deed.goals = {static_cast<std::int32_t>(random.next() % 3)};
    if (deed.then.isOfActs())
        for (std::int32_t act = 0; act < 3; ++act)
            if (random.next() % 2 == 0) deed.acts.push_back(act);
    return deed;
}

CueSet chanceSet(base::Random& random) {
    CueSet set;
    for (std::uint32_t p = 0; p < 3; ++p) {
        model::Property is;
        is.name = "a";
        is.type = model::PropertyType::Integer;
        set.properties.push_back({ObjectId{p + 1}, p, is, model::Value{std::int64_t{0}}});
        set.propertyOf[{p, "a"}] = static_cast<std::int32_t>(p);
        set.goals.push_back({ObjectId{p + 10}, "goal", fmt::format("g{}", p), 0, p == 1});
    }
    for (std::uint64_t a = 0; a < 3; ++a) set.acts.push_back({ObjectId{a + 15}, "act", random.next() % 4 == 0});
    for (std::int32_t p = 0; p < 2; ++p) {
        rehearse::ActMember member;
        member.values = {{p, model::Value{static_cast<std::int64_t>(random.next() % 4)}}};
        for (std::int32_t act = 0; act < 3; ++act)
            if (random.next() % 2 == 0)
                member.parts.push_back(
                    {act, {}, std::nullopt, {{p, model::Value{static_cast<std::int64_t>(random.next() % 4)}}}});
        set.members.push_back(std::move(member));
    }
    const std::size_t cues = 1 + random.next() % 6;
    for (std::size_t c = 0; c < cues; ++c) {
        CueAt cue;
        cue.object = ObjectId{c + 20};
        cue.name = fmt::format("q{}", c);
        cue.armed = random.next() % 5 != 0;
        cue.any = random.next() % 3 == 0;
        cue.times = static_cast<std::int64_t>(random.next() % 4);
        cue.rest = random.next() % 3 == 0 ? static_cast<int>(random.next() % 30) : 0;
        for (std::uint64_t t = random.next() % 4; t > 0; --t) cue.tests.push_back(chanceTest(random, cues));
        for (std::uint64_t d = random.next() % 4; d > 0; --d) cue.deeds.push_back(chanceDeed(random, cues));
        set.cues.push_back(std::move(cue));
    }
    return set;
}

class CuesTest : public QObject {
    Q_OBJECT

  private Q_SLOTS:
    void allIsToldAndDoneAsByTheNaiveOne() {
        std::size_t told = 0, ended = 0, endless = 0, begun = 0;
        for (std::uint64_t seed = 1; seed <= 10'000; ++seed) {
            base::Random random(seed);
            const CueSet set = chanceSet(random);
            ChanceStage stage, beside;
            stage.seed = beside.seed = seed;
            Cues cues(set, stage);
            Reference reference(set, beside);
            std::vector<Entry> entries;
            for (int step = 1; step <= 90; ++step) {
                const std::size_t from = entries.size();
                if (random.next() % 6 == 0) {
                    Entry e;
                    static constexpr What kWhat[] = {What::Used,   What::Taken,   What::PutDown, What::Bumped,
                                                     What::Thrown, What::Entered, What::Left,    What::Moved,
                                                     What::Passed, What::Lapped};
                    e.what = kWhat[random.next() % std::size(kWhat)];
                    e.object = ObjectId{1 + random.next() % 3};
                    e.other = ObjectId{random.next() % 4};
                    entries.push_back(e);
                }
                stage.step = beside.step = step;
                cues.step(step, entries, from, step % 12 == 0);
                reference.step(step, {entries.begin() + static_cast<std::ptrdiff_t>(from), entries.end()},
                               step % 12 == 0);
                if (stage.told != beside.told) {
                    for (std::size_t i = 0; i < std::max(stage.told.size(), beside.told.size()); ++i)
                        qInfo("%s | %s", i < stage.told.size() ? stage.told[i].c_str() : "-",
                              i < beside.told.size() ? beside.told[i].c_str() : "-");
                    QFAIL(qPrintable(QString("seed %1, step %2").arg(seed).arg(step)));
                }
            }
            told += stage.told.size();
            ended += cues.end() ? 1 : 0;
            for (const std::string& line : stage.told) {
                endless += line.find("endless") != std::string::npos ? 1 : 0;
                begun += line.find("act began") != std::string::npos ? 1 : 0;
            }
        }
        // Chance reached what it was to reach.
        QVERIFY2(told > 20'000 && ended > 100 && endless > 20 && begun > 1000,
                 qPrintable(QString("%1 told, %2 ended, %3 endless").arg(told).arg(ended).arg(endless)));
    }
};

MELLOW_TEST(CuesTest)
}  // namespace cues_test
#include "cues_test.moc"
