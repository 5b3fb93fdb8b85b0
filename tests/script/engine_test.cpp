// Scripts: what they can do, and that whatever they try, the project is as it was unless they end well.
#include "script/engine.h"
#include "support/test_main.h"

#include <rapidcheck.h>

#include <pthread.h>

#include <QtTest>
#include <atomic>
#include <chrono>
#include <ctime>
#include <thread>

#include "scripts.h"

namespace engine_test {

using base::ObjectId;
using base::Vec3;
using script::Ending;
using test::Scripts;

// A fifth of a second is what people are promised; the machine of a test may be busy or slowed down.
constexpr double kStopsWithinSeconds = 1.0;

class EngineTest : public QObject {
    Q_OBJECT
  private Q_SLOTS:
    void aScriptMovesNamesPlacesAndRemoves() {
        Scripts p;
        const std::string before = p.bytes();
        const auto done = p.run(R"(
            local cubes = find("item:cube")
            for i, cube in ipairs(cubes) do
              cube:at(cube:at() + vec(0, 2, 0))
              cube:name("Block " .. i)
            end
            local new = place("beam", 3, 0, 3, 90)
            assert(new:item() == "beam" and new:alive())
            remove(find("item:slab"))
            say("cubes:", #cubes))");
        QVERIFY2(done.ending == Ending::Done, done.message.c_str());
        QCOMPARE(done.said, (std::vector<script::Said>{{"cubes: 2", 10}}));
        QVERIFY(glm::length(p.at(p.a) - Vec3(1, 2, 0)) < 1e-9);
        QCOMPARE(p.scene().nameText(p.slot(p.b)), std::string_view("Block 2"));
        QCOMPARE(p.slot(p.c), model::kNoSlot);
        QVERIFY(p.session().undo());
        QCOMPARE(p.bytes(), before);  // one step
    }
    void messagesSayWhereAndWhat() {
        Scripts p;
        const auto error = p.run("local x = 1\nlocal function f()\n  named(3)\nend\nf()");
        QVERIFY(error.ending == Ending::Error);
        for (const char* part : {"test.lua:3:", "named: argument 1", "test.lua:5:"})
            QVERIFY2(error.message.find(part) != std::string::npos, error.message.c_str());
        const auto refused = p.run("local o = find('item:cube')[1] o:protected(true) o:at(1, 2, 3)");
        QVERIFY(refused.ending == Ending::Refused);
        QVERIFY(refused.message.find("protected") != std::string::npos);
        QVERIFY(refused.message.find("at hand") != std::string::npos);
        QVERIFY(p.run("local = 3").message.find("test.lua:1:") != std::string::npos);
        QVERIFY(p.run("error({})").ending == Ending::Error);
    }
    void whatIsGoneSaysSo() {
        Scripts p;
        const auto gone = p.run("local o = find('item:cube')[1] remove(o) assert(not o:alive()) o:name()");
        QVERIFY(gone.message.find("this object is gone") != std::string::npos);
        const auto walking = p.run("for _, o in ipairs(find()) do remove(find()) o:at() end");
        QVERIFY(walking.ending == Ending::Error);
    }
    void modulesComeFromTheProjectOnly() {
        Scripts p;
        QVERIFY(p.run("assert(require('tools').twice(4) == 8) assert(require('tools') == require('tools'))").ending ==
                Ending::Done);
        for (const char* text : {"require('nothing')", "require('../secret')", "require('broken')", "require(3)"})
            QVERIFY(p.run(text).ending == Ending::Error);
    }
    void argumentsChanceAndTimeArePassedIn() {
        Scripts p;
        p.settings.args = {{"count", "3"}, {"word", "x"}};
        p.settings.nowMs = 5000;
        const char* text =
            "say(argument('count', 1) + 1, argument('word'), argument('none', 7), clock(), random(0, 9), "
            "math.random(100))";
        const auto first = p.run(text), second = p.run(text);
        QVERIFY2(first.ending == Ending::Done, first.message.c_str());
        QCOMPARE(first.said, second.said);
        QVERIFY(first.said[0].text.starts_with("4 x 7 5 "));
        p.settings.seed = 2;
        QVERIFY(p.run(text).said != first.said);
        QVERIFY(p.run("argument('word', 1)").ending == Ending::Error);
    }
    void nothingLeaksBetweenRuns() {
        Scripts p;
        QVERIFY(p.run("x = 1 string.secret = 2").ending == Ending::Done);
        QVERIFY(p.run("assert(x == nil and string.secret == nil)").ending == Ending::Done);
    }
    void theHostileEndWithinTheirBudget() {
        const std::pair<const char*, Ending> suite[] = {
            {"while true do end", Ending::Cap},
            {"while true do pcall(function() while true do end end) end", Ending::Cap},
            {"xpcall(function() while true do end end, function() while true do end end)", Ending::Cap},
            {"setmetatable({}, {__index = function(t, k) return t[k .. 'x'] end}).a = nil local t = setmetatable({}, "
             "{__index = function(t, k) while true do end end}) return t.x",
             Ending::Cap},
            {"local t = {} for i = 1, 1e9 do t[i] = {i} end", Ending::Cap},
            {"local s = 'x' while true do s = s .. s end", Ending::Cap},
            {"while true do pcall(function() local s = 'x' while true do s = s .. s end end) end", Ending::Cap},
            {"local t = {} for i = 1, 1e7 do t[i] = ('x'):rep(1000) .. i end table.concat(t)", Ending::Cap},
            {"local t = {} for i = 1, 3e5 do t[i] = -i end while true do table.sort(t) end", Ending::Cap},
            {"local t = {} while true do table.insert(t, 1, 1) end", Ending::Cap},
            {"local a = ('x'):rep(2e6) while true do a:find('y', 1, true) end", Ending::Cap},
            {"local a, b = ('x'):rep(2e6) .. '', ('x'):rep(2e6) .. '' while true do local c = a == b end", Ending::Cap},
            {"return ('x'):rep(1e9)", Ending::Error},
            {"return ('x'):rep(1e5, ('y'):rep(1e5))", Ending::Error},
            {"return (('a'):rep(30000)):find('.-.-.-.-b')", Ending::Cap},
            {"return (('a'):rep(100000)):match('(a*)*(a*)*b')", Ending::Cap},
            {"return (('a'):rep(9e5)):gsub('a-a-a-b', '')", Ending::Cap},
            {"return ('('):rep(2e6):find('%b()')", Ending::Cap},
            {"return ('x'):rep(2e6):find('x*y')", Ending::Cap},
            {"for s in ('('):rep(2e6):gmatch('%b()') do end", Ending::Cap},
            {"local a = ('x'):rep(1e6) while true do a:find(('x'):rep(5e5) .. 'y', 1, true) end", Ending::Cap},
            {"table.move({}, 1, 1e15, 2)", Ending::Cap},
            {"table.move({}, 1, math.maxinteger, 2)", Ending::Error},
            {"table.insert(setmetatable({}, {__len = function() return 1e15 end}), 1, 1) while true do end",
             Ending::Cap},
            {"table.remove(setmetatable({}, {__len = function() return 1e15 end}), 1)", Ending::Done},
            {"table.concat(setmetatable({}, {__index = function() return 'x' end}), '', 1, 1e15)", Ending::Error},
            {"table.unpack(setmetatable({}, {__index = function() return 1 end}), 1, 1e7)", Ending::Error},
            {"local t = {} for i = 1, 5e5 do t[i] = i end for i = 1, 5e5 do t[i] = nil end while true do next(t) end",
             Ending::Cap},
            {"local function f() xpcall(error, f) xpcall(error, f) end f()", Ending::Error},
            {"local function f() return xpcall(f, f) end f() while true do end", Ending::Cap},
            {"local a, b = ('x'):rep(2e6) .. 'a', ('x'):rep(2e6) .. 'b' while true do local c = a < b end",
             Ending::Cap},
            {"local a = ('x'):rep(2e6) while true do utf8.len(a) end", Ending::Cap},
            {"local a = ('x'):rep(2e6) while true do a:lower() end", Ending::Cap},
            {"local a = (' '):rep(2e6) while true do pcall(function() return a + 1 end) end", Ending::Cap},
            {"while true do local a = ('x'):rep(2e6) end", Ending::Cap},
            {"while true do string.format('%s', ('x'):rep(1e6)) end", Ending::Cap},
            {"local s = ('x'):rep(60000) while true do say(s) end", Ending::Error},
            {"while true do copy(find()) end", Ending::Cap},
            {"local o = find('item:cube')[1] for i = 1, 30 do o = ring({o}, 90, 5) end", Ending::Cap},
            {"local o = find('item:cube')[1] for i = 1, 9 do o = grid({o}, 20, 20, 20, vec(2, 2, 2)) end", Ending::Cap},
            {"for i = 1, 1e9 do seat(find()) end", Ending::Cap},
            {"while true do overlapping(vec(-1e5, -1e5, -1e5), vec(1e5, 1e5, 1e5)) end", Ending::Cap},
            {"setmetatable({}, {__mode = 'k'})", Ending::Error},
            {"find('item:cube')[1]:name('\xff')", Ending::Error},
            {"pcall(function() local o = find('item:cube')[1] o:put(o) end) error('mine')", Ending::Error},
            {"local function f() return f() + 1 end f()", Ending::Cap},
            {"local function f() return pcall(f) end f() while true do end", Ending::Cap},
            {"local t = {} t[1] = t table.unpack(t, 1, 1e8)", Ending::Error},
            {"setmetatable({}, {__gc = function() while true do end end})", Ending::Error},
            {"string.format('%99999d', 1)", Ending::Error},
            {"getmetatable('').__index = nil local s = ('x'):upper()", Ending::Error},
            {"for i = 1, 1e6 do say(i) end", Ending::Error},
            {"error(setmetatable({}, {__tostring = function() while true do end end}))", Ending::Error},
            {"for i = 1, 2000 do place('cube', i, 0, 0) end error('late')", Ending::Error},
            {"for i = 1, 1e6 do place('cube', i, 0, 0) end error('late')", Ending::Cap},
            {"for _, o in ipairs(find('item:cube')) do o:at(0/0, 0, 0) end", Ending::Error},
            {"for _, o in ipairs(find('item:cube')) do o:at(1e300, 0, 0) end", Ending::Error},
            {"find('item:cube')[1]:size(0)", Ending::Error},
            {"find('item:cube')[1]:name(('x'):rep(1000))", Ending::Refused},
            {"local o = find('item:cube')[1] o:put(o)", Ending::Refused},
            {"getmetatable(find()[1]).__index = {}", Ending::Error}};
        std::string wrong;
        for (const auto& [text, ending] : suite) {
            Scripts p;
            p.settings.limits = {std::size_t{24} << 20, 20'000'000, 2, 20000};
            const auto outcome = p.run(text);
            if (outcome.ending != ending) wrong += std::string(text) + "\n" + outcome.message + "\n";
        }
        QVERIFY2(wrong.empty(), wrong.c_str());
    }
    /// Whatever a script is doing, it stops soon after it is told to, or when its time is over.
    void everyOneOfThemStopsInTime() {
        const char* suite[] = {
            "while true do end",
            "local a, b = ('x'):rep(2e6) .. 'a', ('x'):rep(2e6) .. 'b' while true do local c = a < b end",
            "local a = (' '):rep(2e6) while true do pcall(function() return a + 1 end) end",
            "local a = ('x'):rep(2e6) while true do a:lower() end",
            "return ('x'):rep(2e6):find('x*y')",
            "local t = {} for i = 1, 2e6 do t[i] = -i end while true do table.sort(t) end",
            "local t = {} for i = 1, 9e5 do t[i * 7] = i end for i = 1, 9e5 do t[i * 7] = nil end "
            "while true do next(t) end",
            "while true do copy(find()) end",
            "for i = 1, 8e5 do place('cube', i % 1000, 0, i // 1000) end",
            "local c = {} for i = 1, 3000 do c[i] = place('cube', i % 60, i % 7, i // 60) end "
            "while true do seat(c) end"};
        std::string late;
        for (const char* text : suite) {
            Scripts p;
            p.settings.limits.instructions = 1000000000000;
            p.settings.limits.seconds = 60;
            std::atomic<bool> cancel = false;
            p.settings.cancel = &cancel;
            // Of this thread's own time: how busy the machine is does not count.
            clockid_t mine{};
            pthread_getcpuclockid(pthread_self(), &mine);
            auto seconds = [mine] {
                timespec now{};
                clock_gettime(mine, &now);
                return static_cast<double>(now.tv_sec) + static_cast<double>(now.tv_nsec) * 1e-9;
            };
            double told = 0;
            std::thread soon([&] {
                std::this_thread::sleep_for(std::chrono::milliseconds(400));
                told = seconds();
                cancel = true;
            });
            edit::Draft draft(p.session(), "first", "Script");
            script::Source source;
            source.name = "test.lua";
            source.text = text;
            const auto outcome = script::run(draft, source, p.settings);
            const double ended = seconds();
            soon.join();
            const double took = ended - told;
            if (outcome.ending != Ending::Cancelled || took > kStopsWithinSeconds)
                late += fmt::format("{}\n  {} {:.2f} s {}\n", text, static_cast<int>(outcome.ending), took,
                                    outcome.message.substr(0, 200));
        }
        QVERIFY2(late.empty(), late.c_str());
    }
    void patternsAreAsLuaHasThem() {
        Scripts p;
        const auto done = p.run(test::fileBytes(test::dataFolder() / "patterns.lua"));
        QVERIFY2(done.done(), done.message.c_str());
    }
    void tablesAreAsLuaHasThem() {
        Scripts p;
        const auto done = p.run(test::fileBytes(test::dataFolder() / "tables.lua"));
        QVERIFY2(done.done(), done.message.c_str());
    }
    void argumentsThatNobodyAsksForAreAnError() {
        Scripts p;
        p.settings.args = {{"by", "2"}};
        QVERIFY(p.run("say(argument('by', 1))").done());
        QVERIFY(p.run("say(1)").ending == Ending::Error);
        const char* command = "command { name = 'Raise', form = { by = number{1} }, run = function(f) say(f.by) end }";
        QVERIFY(p.run(command).done());
        p.settings.args = {{"bye", "2"}};
        QVERIFY(p.run(command).message.find("bye") != std::string::npos);
        p.settings.args.clear();
        QVERIFY(p.run("command { name = 'No', enabled = function() return false end, run = function() end }").ending ==
                Ending::Refused);
    }
    void itComparesTheSameInEveryLanguage() {
        Scripts p;
        const auto done = p.run("assert(('Z' < 'a') and tostring(1.5) == '1.5' and ('Ä' > 'z'))");
        QVERIFY2(done.done(), done.message.c_str());
    }
    void whatIsNotForScriptsIsNotThere() {
        Scripts p;
        for (const char* name : {"io", "os", "debug", "package", "load", "loadfile", "dofile", "collectgarbage",
                                 "coroutine", "loadstring"})
            QVERIFY2(p.run(std::string("assert(") + name + " == nil)").ending == Ending::Done, name);
        QVERIFY(p.run("assert(string.dump == nil and math.randomseed == nil)").ending == Ending::Done);
        QVERIFY(p.run("\x1bLua").ending == Ending::Error);  // no bytecode
    }
    void aRunIsCalledOff() {
        Scripts p;
        std::atomic<bool> cancel = true;
        p.settings.cancel = &cancel;
        QVERIFY(p.run("find('item:cube')[1]:at(9, 9, 9) while true do end").ending == Ending::Cancelled);
    }
    /// Any function with any arguments: an error, or fine; never a crash, and nothing left behind by an error.
    void anyArgumentsAreSurvived() {
        qputenv("RC_PARAMS", "max_success=400");
        Scripts p;
        const bool held = rc::check("arguments", [&p] {
            const auto value = rc::gen::element<std::string>(
                "nil", "true", "0", "-1", "1e308", "0/0", "1/0", "''", "'x'", "'item:cube'", "'cube'",
                "('y'):rep(5000)", "{}", "{1}", "{find()[1]}", "find()[1]", "find()", "function() end", "'\\0\\255'",
                "math.mininteger", "vec(1, 2, 3)", "vec(0/0, 0, 1e300)", "turn(0, 90, 0)", "{vec(0, 0, 0)}",
                "{'a', 'b'}", "'box'", "'x'", "'low'");
            const script::Function& f = *rc::gen::elementOf(script::functions());
            std::string call = f.name;
            if (call.starts_with("object:")) call = "(find()[1]):" + call.substr(7);
            call += "(";
            for (int n = *rc::gen::inRange(0, 5), i = 0; i < n; ++i) call += (i > 0 ? "," : "") + *value;
            p.run(call + ")");
        });
        QVERIFY(held);
    }
    void vectorsAndTurnsAreValues() {
        Scripts p;
        const auto done = p.run(R"lua(
            local a, b = vec(1, 2, 3), vec(4, 6, 3)
            assert(a + b == vec(5, 8, 6) and b - a == vec(3, 4, 0) and a * 2 == vec(2, 4, 6) and -a == vec(-1, -2, -3))
            assert(a:to(b) == 5 and mix(a, b, 0.5) == vec(2.5, 4, 3) and a:dot(b) == 25)
            assert(vec(1, 0, 0):cross(vec(0, 1, 0)) == vec(0, 0, 1) and a:level() == vec(1, 0, 3))
            a.x = 9
            assert(a.x == 9 and tostring(a) == "(9, 2, 3)")
            local t = turn(0, 90, 0)
            assert((t * vec(1, 0, 0)):to(vec(0, 0, -1)) < 1e-9)
            assert((t * t):degrees():to(vec(0, 180, 0)) < 1e-6 or (t * t):degrees():to(vec(0, -180, 0)) < 1e-6)
            assert((t * t:inverse() * a):to(a) < 1e-9)
            local o = find("item:cube")[1]
            o:turn(about(vec(0, 1, 0), 30))
            assert(math.abs(o:turn():degrees().y - 30) < 1e-6)
            o:worldTurn(turn(0, 45, 0))
            assert(math.abs(o:worldTurn():degrees().y - 45) < 1e-6)
            assert(o:toOwn(o:toWorld(vec(1, 2, 3))):to(vec(1, 2, 3)) < 1e-9)
            o:move(vec(0, 1, 0))
            assert(o:at():to(vec(1, 1, 0)) < 1e-9)
            assert(not pcall(function() return a + 1 end) and not pcall(function() a.w = 1 end)))lua");
        QVERIFY2(done.done(), done.message.c_str());
    }
    void posesBelowWhatIsMovedAreOfNow() {
        Scripts p;
        const auto done = p.run(R"(
            local a, b = find("item:cube")[1], find("item:cube")[2]
            b:put(a)
            a:at(vec(10, 0, 0))
            assert(b:at():to(vec(14, 0, 0)) < 1e-9, tostring(b:at()))
            b:at(vec(0, 0, 7))
            a:turn(0, 90, 0)
            a:move(vec(0, 5, 0))
            assert(math.abs(b:at().y - 5) < 1e-9)
            local low, high = a:box()
            assert(low and high))");
        QVERIFY2(done.done(), done.message.c_str());
    }
    void commandsAreDeclaredAndRunWithTheirForm() {
        Scripts p;
        const std::string text = R"(
            command {
              name = "Raise", menu = "Test/Up", help = "Raises cubes.", shortcut = "Alt+U",
              form = { by = number{2, min = 0, max = 10, unit = "m"}, which = object{kind = "Block"},
                       way = choice{"up", "down"}, to = point{vec(1, 2, 3)}, on = switch{true} },
              enabled = function() return #find("item:cube") > 0 end,
              run = function(f)
                assert(f.on and f.to == vec(1, 2, 3) and f.which == nil)
                for _, o in ipairs(find("item:cube")) do o:move(vec(0, f.way == "up" and f.by or -f.by, 0)) end
              end
            }
            command { name = "Other", run = function() say("other") end })";
        const script::Reading reading = script::declare({"test.lua", text, {}});
        QVERIFY2(reading.outcome.done(), reading.outcome.message.c_str());
        QCOMPARE(reading.declared.commands.size(), std::size_t{2});
        const script::CommandSpec& raise = reading.declared.commands[0];
        QCOMPARE(raise.menu, std::string("Test/Up"));
        QVERIFY(raise.asksEnabled && !raise.stays);
        QCOMPARE(raise.form.size(), std::size_t{5});  // in the order written
        QCOMPARE(raise.form[0].label, std::string("By"));
        QCOMPARE(raise.form[1].kinds, std::vector<std::string>{"Block"});
        QVERIFY(raise.form[3].isPlace);
        QVERIFY(p.run(text).message.find("say which: Raise, Other") != std::string::npos);
        p.settings.command = "Raise";
        p.settings.args = {{"by", "4"}, {"way", "down"}};
        const auto done = p.run(text);
        QVERIFY2(done.done(), done.message.c_str());
        QVERIFY(glm::length(p.at(p.a) - Vec3(1, -4, 0)) < 1e-9);
        p.settings.args = {{"by", "11"}};
        QVERIFY(p.run(text).message.find("by:") != std::string::npos);  // beyond its range: nothing was run
    }
    void whatIsDeclaredWronglyIsSaid() {
        const std::pair<const char*, const char*> wrong[] = {
            {"command { run = function() end }", "test.lua:1: a command has a name"},
            {"\ncommand { name = 'A' }", "test.lua:2: the command “A” has no run"},
            {"command { name = 'A', runs = 1, run = print }", "has no “runs”"},
            {"command { name = 'A', run = print, form = { x = 5 } }", "is no such field"},
            {"command { name = 'A', run = print, form = { x = number{5, max = 2} } }", "the field “x”"},
            {"command { name = 'A', run = print, form = { x = choice{} } }", "no choices"},
            {"command { name = 'A', run = print } command { name = 'A', run = print }", "two commands"},
            {"command { name = 'A', run = print } find()", "the scene is there only while a command runs"},
            {"behaviour { kind = 'A', lok = print }", "has no “lok”"},
            {"command { name = 'A', run = print } x = = 1", "test.lua:1:"}};
        for (const auto& [text, message] : wrong) {
            const auto reading = script::declare({"test.lua", text, {}});
            QVERIFY2(!reading.outcome.done(), text);
            QVERIFY2(reading.outcome.message.find(message) != std::string::npos, reading.outcome.message.c_str());
        }
        QVERIFY(script::declare({"test.lua", "find()", {}}).acts);
        QVERIFY(!script::declare({"test.lua", "return {}", {}}).acts);
        QVERIFY(script::declare({"test.lua", "say(1)\n\nerror('x')", {}}).outcome.line == 3);
    }
    void marksAreDrawn() {
        Scripts p;
        const auto done = p.run(
            "line(vec(0,0,0), vec(1,0,0)) arrow(vec(0,0,0), vec(1,0,0), vec(1,0,0)) "
            "circle(vec(0,0,0), 3) frame(vec(0,0,0), vec(1,1,1)) caption(vec(0,0,0), 'here') "
            "dot(vec(1,1,1)) find()[1]:name() handle(vec(1,1,1), 'oil')");
        QVERIFY2(done.done(), done.message.c_str());
        QCOMPARE(done.marks.size(), std::size_t{7});
        QVERIFY(done.marks[1].colour == Vec3(1, 0, 0) && done.marks[4].text == "here");
    }
    void thePulseIsAskedAndCanStopIt() {
        Scripts p;
        double seen = 0;
        p.settings.pulse = [&](double share, const std::string& what) {
            seen = share;
            return what != "half";
        };
        const auto ended = p.run("progress(0.5, 'half') while true do end");
        QVERIFY(ended.ending == Ending::Cancelled);
        QCOMPARE(seen, 0.5);
    }
    void everyFunctionIsDocumented() {
        const std::string manual = test::fileBytes(test::formatsFolder().parent_path() / "scripting.md");
        for (const script::Function& f : script::functions()) {
            const std::string head = "`" + f.name + "(" + f.arguments + ")`";
            QVERIFY2(manual.find(head) != std::string::npos, head.c_str());
            QVERIFY2(manual.find(f.help) != std::string::npos, f.help.c_str());
        }
    }
};

MELLOW_TEST(EngineTest)
}  // namespace engine_test
#include "engine_test.moc"
