#!/usr/bin/env python3
"""Attacks `mellow`: see README.md beside this."""
import argparse
import json
import os
import pathlib
import random
import resource
import shutil
import signal
import sqlite3
import struct
import subprocess
import sys
import tempfile
import time

HERE = pathlib.Path(__file__).resolve().parent
CHECKOUT = HERE.parent.parent
CODES = set(range(0, 11))
IN_TIME = 30  # seconds that any command on these small projects may take
MEMORY = 4 << 30


class Attack:
    def __init__(self, mellow, seed, short, until):
        self.mellow = str(mellow)
        self.random = random.Random(seed)
        self.short = short
        self.until = until
        self.runs = self.faults = self.losses = 0
        self.folder = pathlib.Path(tempfile.mkdtemp(prefix="mellow-attack-"))
        self.preload = None

    # What every run is held to.

    def run(self, *arguments, env=None, timeout=IN_TIME, memory=MEMORY):
        def limit():
            resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
            resource.setrlimit(resource.RLIMIT_CORE, (0, 0))

        self.runs += 1
        began = time.monotonic()
        try:
            done = subprocess.run([self.mellow, *map(str, arguments)], capture_output=True, timeout=timeout,
                                  env={**os.environ, **(env or {})}, preexec_fn=limit)
        except subprocess.TimeoutExpired:
            self.fault(f"takes longer than {timeout} s", arguments)
            return None
        done.seconds = time.monotonic() - began
        return done

    def fault(self, what, arguments=(), done=None):
        self.faults += 1
        text = (done.stderr + done.stdout).decode("utf-8", "replace")[-400:] if done is not None else ""
        print(f"FAULT: {what}: mellow {' '.join(map(str, arguments))}\n  {text}", flush=True)

    def lost(self, what):
        self.losses += 1
        print(f"LOST: {what}", flush=True)

    def held(self, done, arguments, codes=CODES):
        """An end of its own, in our words, that gives a terminal no orders."""
        if done is None:
            return False
        said = done.stdout + done.stderr
        problems = []
        if done.returncode < 0:
            problems.append(f"ended by signal {-done.returncode}")
        elif done.returncode not in codes:
            problems.append(f"ended with {done.returncode}")
        for text in (b"should not have happened", b"json.exception", b"terminate called", b"basic_string", b"vector::"):
            if text in said:
                problems.append(f"says {text.decode()}")
        if any(byte < 0x20 and byte not in (0x0A, 0x09) or byte == 0x7F for byte in said):
            problems.append("writes control characters")
        try:
            said.decode("utf-8")
        except UnicodeDecodeError:
            problems.append("writes what is no UTF-8")
        for problem in problems:
            self.fault(problem, arguments, done)
        return not problems

    def going_on(self, done, wanted):
        """For loops: at least `wanted` rounds, then until the time is over."""
        return done < wanted or (not self.short and time.monotonic() < self.until)

    # Projects.

    def project(self, name):
        """A small one with a file of every sort, and a history."""
        base = self.folder / "base"
        if not base.exists():
            shutil.copytree(CHECKOUT / "demo" / "heron-lock", base, ignore=shutil.ignore_patterns(".mellow"))
            kept = {"bench.glb", "valley-ground.glb", "lantern-post.glb", "stall-frame.glb", "plank.glb"}
            for model in (base / "items").iterdir():
                if model.name not in kept:
                    model.unlink()
            scene = base / "scenes" / "lower-basin.scene.jsonl"
            (base / "scenes" / "broken-lock.scene.jsonl").unlink()
            for command in (("set", scene, "oil=2", "--where", "kind:Lantern"),
                            ("set", scene, "oil=1.5", "--where", "kind:Lantern"),
                            ("run", self.script("find('item:bench')[1]:name('Seat') place('plank', 1, 2, 3)"), scene),
                            ("run", self.script("remove(find('item:plank'))"), scene)):
                done = self.run(*command)
                if done is None or done.returncode != 0:
                    sys.exit(f"the project for the attack cannot be made: {done and done.stderr.decode()}")
        folder = self.folder / name
        shutil.rmtree(folder, ignore_errors=True)
        shutil.copytree(base, folder, symlinks=True)
        return folder

    def script(self, text):
        file = self.folder / f"script-{abs(hash(text))}.lua"
        file.write_text(text)
        return file

    @staticmethod
    def contents(folder, but=(".mellow",)):
        return {str(f.relative_to(folder)): f.read_bytes() for f in sorted(folder.rglob("*"))
                if f.is_file() and not f.is_symlink() and f.relative_to(folder).parts[0] not in but}

    # The parts.

    def changed_bytes(self, data):
        r = self.random
        data = bytearray(data)
        for _ in range(r.choice((1, 1, 1, 2, 4, 16))):
            if not data:
                return bytes(data)
            at = r.randrange(len(data))
            what = r.randrange(7)
            if what == 0:
                data[at] ^= 1 << r.randrange(8)
            elif what == 1:
                data[at] = r.randrange(256)
            elif what == 2:
                del data[at:at + r.choice((1, 2, 8, 200))]
            elif what == 3:
                data[at:at] = bytes(r.randrange(256) for _ in range(r.choice((1, 4, 64))))
            elif what == 4:
                del data[at:]
            elif what == 5:
                other = r.randrange(len(data))
                data[at:at + 16] = data[other:other + 16]
            else:
                data[at:at] = r.choice((b"\0", b"\xff\xfe", b"\x1b[2J", b"\n", b'"', b"}", b"[[[[", b"1e999", b"null",
                                        "‮".encode()))
        return bytes(data)

    def changed_values(self, text):
        """One value of one line of JSON becomes another one."""
        r = self.random
        lines = text.split("\n") if "\n{" in text else [text]
        at = r.randrange(len(lines))
        try:
            whole = json.loads(lines[at])
        except ValueError:
            return None
        places = []

        def walk(node):
            items = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
            for key, value in list(items):
                places.append((node, key))
                walk(value)

        walk(whole)
        if not places:
            return None
        node, key = r.choice(places)
        extreme = [None, True, -1, 0, 1e308, -1e308, 2**53, 2**63, 1e-320, "", "../../x", "/etc/passwd", "x" * 5000,
                   "\u001b[31m", "<b>", "=1+1", [], {}, [[[[]]]], [1] * 1000, {"a": {"b": {}}}, 0.1, "0" * 16,
                   "ffffffffffffffff", "NaN"]
        node[key] = r.choice(extreme)
        lines[at] = json.dumps(whole)
        return "\n".join(lines)

    def mutate(self):
        folder = self.project("mutate")
        files = [f for f in sorted(folder.rglob("*")) if f.is_file() and ".mellow" not in f.parts
                 and f.name != ".gitignore"]
        rounds = 0
        while self.going_on(rounds, 60 if self.short else 2000):
            rounds += 1
            file = self.random.choice(files)
            original = file.read_bytes()
            changed = None
            if file.suffix in (".json", ".jsonl") and self.random.random() < 0.6:
                text = self.changed_values(original.decode())
                changed = text.encode("utf-8", "surrogatepass") if text is not None else None
            file.write_bytes(changed if changed is not None else self.changed_bytes(original))
            scene = folder / "scenes" / "lower-basin.scene.jsonl"
            before = self.contents(folder)
            commands = [("validate-file", file), self.random.choice((
                ("validate-file", folder), ("info", folder), ("list", scene, "--json"), ("check", scene),
                ("export", scene, "--to", self.folder / "out.glb", "--overwrite"), ("prefab", "list", folder),
                ("table", "export", scene), ("items", folder)))]
            for command in commands:
                self.held(self.run(*command), command)
            if self.contents(folder) != before:
                self.fault("changed a file although it only reads", commands[1])
            if self.random.random() < 0.2:
                writing = ("set", scene, "oil=1.25", "--where", "kind:Lantern")
                if self.held(self.run(*writing), writing):
                    after = self.contents(folder)
                    for name, held in before.items():
                        kept = [v for n, v in after.items() if n == name or n.startswith(name + ".")]
                        if name != str(scene.relative_to(folder)) and held not in kept:
                            self.lost(f"{name} after {writing}")
                folder = self.project("mutate")
            else:
                file.write_bytes(original)

    def ledger(self):
        folder = self.project("ledger")
        scene = folder / "scenes" / "lower-basin.scene.jsonl"
        steps = 4
        states = [scene.read_bytes()]
        for _ in range(steps):
            if self.run("undo", folder).returncode != 0:
                sys.exit("the history of the attack's project cannot be undone")
            states.append(scene.read_bytes())
        rounds = 0
        while self.going_on(rounds, 40 if self.short else 1500):
            rounds += 1
            folder = self.project("ledger")
            scene = folder / "scenes" / "lower-basin.scene.jsonl"
            db = folder / ".mellow" / "ledger.db"
            data = bytearray(db.read_bytes())
            for _ in range(self.random.choice((1, 1, 1, 3))):
                data[self.random.randrange(len(data))] ^= 1 << self.random.randrange(8)
            db.write_bytes(data)
            for look in (("ledger", "check", folder), ("info", folder)):
                self.held(self.run(*look), look)
            n = self.random.randrange(1, steps + 1)
            command = ("undo", folder, n)
            done = self.run(*command)
            if not self.held(done, command):
                continue
            now = scene.read_bytes()
            if done.returncode == 0 and now != states[n]:
                self.fault("a wrong scene, and an end as if it were right", command, done)
            if now not in states:
                self.lost(f"the scene after a changed ledger: {done.stderr.decode('utf-8', 'replace')[-200:]}")
            repair = ("ledger", "repair", folder)
            repaired = self.run(*repair)
            if self.held(repaired, repair) and repaired.returncode == 0:
                again = ("ledger", "check", folder)
                checked = self.run(*again)
                if checked is not None and checked.returncode != 0:
                    self.fault("a repaired ledger is not sound", again, checked)

    def compile_preload(self):
        if self.preload is None:
            self.preload = self.folder / "cut.so"
            subprocess.run(["cc", "-shared", "-fPIC", "-O1", "-o", self.preload,
                            HERE / "cut.c", "-ldl"], check=True)
        return self.preload

    def interrupted(self):
        """Commands that write, each with how a fresh project for it is made."""
        def opened_first():
            folder = self.project("cut")
            shutil.rmtree(folder / ".mellow")
            return folder

        def used():
            return self.project("cut")

        move = self.script("for _, o in ipairs(find('kind:Lantern')) do o:move(vec(0, 0.5, 0)) end")
        model = CHECKOUT / "demo" / "heron-lock" / "items" / "willow.glb"
        scene = "scenes/lower-basin.scene.jsonl"
        return [(opened_first, lambda f: ("run", move, f / scene)), (used, lambda f: ("run", move, f / scene)),
                (used, lambda f: ("undo", f, 2)), (used, lambda f: ("import", model, "--into", f)),
                (used, lambda f: ("ledger", "repair", f))]

    def outcome(self, make, command):
        """The files before and after a run that nothing disturbs, and how many changes of the disk it makes."""
        folder = make()
        before = self.contents(folder)
        count = self.folder / "count"
        done = self.run(*command(folder), env={"LD_PRELOAD": str(self.compile_preload()), "ATTACK_COUNT": str(count)})
        if done is None or done.returncode != 0:
            sys.exit(f"a command of the attack fails by itself: {done and done.stderr.decode()}")
        return before, self.contents(folder), int(count.read_text())

    def settled(self, folder, before, after, what):
        """After a cut: it opens, every file is as before or after, and the next command works."""
        def whole(files):
            return all(files.get(name) in (before.get(name), after.get(name)) for name in set(before) | set(after) | set(files)
                       if ".part-" not in name)

        if not whole(self.contents(folder)):
            self.lost(f"a file is neither as before nor as after: {what}")
        for command in (("info", folder), ("list", folder / "scenes" / "lower-basin.scene.jsonl")):
            done = self.run(*command)
            if self.held(done, command) and done.returncode != 0:
                self.fault(f"cannot be read after {what}", command, done)
        again = ("run", self.script("find('item:bench')[1]:name('Again')"), folder / "scenes" / "lower-basin.scene.jsonl")
        done = self.run(*again)
        if self.held(done, again) and done.returncode != 0:
            self.fault(f"cannot be gone on with after {what}", again, done)
        stray = [f for f in folder.rglob("*.part-*")]
        if stray:
            self.fault(f"leaves {stray[0].name} after {what}", again)
        undo = ("undo", folder)
        done = self.run(*undo)
        if self.held(done, undo) and done.returncode != 0:
            self.fault(f"cannot undo after {what}", undo, done)

    def cut(self, how, make, command, sample):
        """At each change of the disk that the command makes, or at some of them."""
        before, after, changes = self.outcome(make, command)
        points = range(1, changes + 1)
        if self.short:
            points = sorted(self.random.sample(points, min(changes, sample)))
        for n in points:
            folder = make()
            line = command(folder)
            done = self.run(*line, env={"LD_PRELOAD": str(self.preload), "ATTACK_CUT": f"{how}:{n}"})
            if how == "full":
                self.held(done, line)
            self.settled(folder, before, after, f"{how} at change {n} of {line[0]}")
        return before, after

    def kill(self):
        for make, command in self.interrupted():
            before, after = self.cut("kill", make, command, 6)
            rounds = 0
            while self.going_on(rounds, 4 if self.short else 60) and rounds < 400:
                rounds += 1
                folder = make()
                self.runs += 1
                process = subprocess.Popen([self.mellow, *map(str, command(folder))], stdout=subprocess.DEVNULL,
                                           stderr=subprocess.DEVNULL)
                time.sleep(self.random.random() * 0.35)
                process.send_signal(signal.SIGKILL)
                process.wait()
                self.settled(folder, before, after, f"kill at random of {command(folder)[0]}")

    def full(self):
        for make, command in self.interrupted():
            self.cut("full", make, command, 5)
        self.small_disk()

    def small_disk(self):
        place = self.folder / "disk"
        place.mkdir(exist_ok=True)
        sizes = (600, 900) if self.short else range(300, 3000, 60)
        for kilobytes in sizes:
            mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={kilobytes}k", "tmpfs", place],
                                     capture_output=True)
            if mounted.returncode != 0:
                print("no file system of its own can be mounted here: a full disk is only played")
                return
            try:
                folder = place / "p"
                done = self.run("new", folder)
                if done.returncode != 0:
                    continue
                before = self.contents(folder)
                filler = place / "filler"
                with open(filler, "wb", buffering=0) as out:
                    try:
                        while True:
                            out.write(b"x" * 4096)
                    except OSError:
                        pass
                scene = folder / "scenes" / "first.scene.jsonl"
                command = ("run", self.script("find()[1]:name('Full')"), scene)
                done = self.run(*command)
                if self.held(done, command) and done.returncode == 0 and b"Full" not in scene.read_bytes():
                    self.fault("says it is written on a full disk", command, done)
                filler.unlink()
                after = dict(before)
                after["scenes/first.scene.jsonl"] = scene.read_bytes()
                done = self.run(*command)
                if self.held(done, command) and done.returncode != 0:
                    self.fault("cannot go on once there is room again", command, done)
            finally:
                subprocess.run(["umount", "-l", place], capture_output=True)

    def scripts(self):
        for script in sorted((HERE / "scripts").glob("*.lua")):
            folder = self.project("scripts")
            scene = folder / "scenes" / "lower-basin.scene.jsonl"
            before = self.contents(folder)
            command = ("run", script, scene, *(("--seconds", "1.5") if self.short else ()))
            done = self.run(*command, timeout=8 if self.short else 200, memory=6 << 30)
            if self.held(done, command) and done.returncode == 0 and not script.name.startswith("fine-"):
                self.fault("a hostile script ends well", command, done)
            if self.contents(folder) != before:
                self.lost(f"something after {script.name}")
        # The same as a project's own: behaviours, looks and checks that never end.
        for kind, text in (("check", "check { id = 'endless', find = function(o, p) while true do end end }"),
                           ("behaviour", "behaviour { kind = 'Lantern', changed = function(o) while true do end end }"),
                           ("loading", "while true do end"),
                           ("text", "check { id = 'deep', find = function() return ('x'):rep(2e6):find('x*y') end }")):
            folder = self.project("scripts")
            (folder / "scripts" / "hostile.lua").write_text(text)
            scene = folder / "scenes" / "lower-basin.scene.jsonl"
            for command in (("check", scene), ("set", scene, "oil=1.75", "--where", "kind:Lantern"), ("info", scene)):
                self.held(self.run(*command, timeout=120), command)

    def paths(self):
        secret = "do not read or touch"

        def fresh():
            outside = self.folder / "outside"
            shutil.rmtree(outside, ignore_errors=True)
            outside.mkdir()
            (outside / "canary.txt").write_text(secret)
            shutil.copy(CHECKOUT / "demo" / "heron-lock" / "items" / "plank.glb", outside / "x.glb")
            return outside

        def link(name, to):
            def make(folder, outside):
                target = folder / name
                if target.is_dir() and not target.is_symlink():
                    shutil.rmtree(target)
                elif target.exists() or target.is_symlink():
                    target.unlink()
                target.parent.mkdir(parents=True, exist_ok=True)
                target.symlink_to(outside / to if to else outside)
            return make

        def edit(name, change):
            def make(folder, outside):
                file = folder / name
                file.write_text(change(file.read_text(), outside))
            return make

        def sql(*statements):
            def make(folder, outside):
                db = sqlite3.connect(folder / ".mellow" / "ledger.db")
                for statement in statements:
                    db.execute(statement)
                db.commit()
                db.close()
            return make

        def special(name, make_it):
            def make(folder, outside):
                target = folder / name
                if target.exists():
                    target.unlink()
                target.parent.mkdir(exist_ok=True)
                make_it(target)
            return make

        def items(entry):
            def change(text, outside):
                project = json.loads(text)
                project["items"].update(entry)
                return json.dumps(project)
            return edit("project.json", change)

        gltf = lambda uri: json.dumps({"asset": {"version": "2.0"}, "buffers": [{"byteLength": 20, "uri": uri}],
                                       "images": [{"uri": uri}]})
        tricks = {
            "lock as a link": link(".mellow/lock", "canary.txt"),
            "history folder as a link": link(".mellow", ""),
            "ledger as a link": link(".mellow/ledger.db", "canary.txt"),
            "log of the ledger as a link": link(".mellow/ledger.db-wal", "canary.txt"),
            "scenes as a link": link("scenes", ""),
            "a scene as a link": link("scenes/link.scene.jsonl", "canary.txt"),
            "a kind as a link": link("kinds/Link.kind.json", "canary.txt"),
            "a model as a link": link("items/link.glb", "x.glb"),
            "media as a link": link("media", ""),
            "scripts as a link": link("scripts", ""),
            "a script as a link": link("scripts/link.lua", "canary.txt"),
            "project.json as a link": link("project.json", "canary.txt"),
            "removed models as a link": link(".mellow/removed", ""),
            "added files as a link": link(".mellow/added", ""),
            "an item that leads out and is gone": items({"../../outside/x": {"label": "x", "gone": True}}),
            "an item that leads out": items({"../outside/x": {"label": "x"}, "/etc/passwd": {"label": "y"}}),
            "a first scene that leads out": edit("project.json", lambda t, o: json.dumps(
                {**json.loads(t), "firstScene": "../../outside/canary"})),
            "a step in a document that leads out": sql(
                "UPDATE steps SET scene='@records/../../outside/evil', head=NULL",
                "UPDATE steps SET body=NULL"),
            "a save of what leads out": sql("INSERT INTO saves VALUES(NULL,'../../outside/x',1,0,0,1,1,NULL)"),
            "a trigger in the ledger": sql(
                "CREATE TRIGGER evil AFTER INSERT ON steps BEGIN UPDATE steps SET name='evil'; END"),
            "a view in place of a table": sql("ALTER TABLE steps RENAME TO real",
                                              "CREATE VIEW steps AS SELECT * FROM real"),
            "a pipe as a scene": special("scenes/pipe.scene.jsonl", os.mkfifo),
            "a pipe as a model": special("items/pipe.glb", os.mkfifo),
            "a pipe as project.json": special("project.json", os.mkfifo),
            "a pipe as the lock": special(".mellow/lock", os.mkfifo),
            "a device as a script": special("scripts/zero.lua", lambda t: t.symlink_to("/dev/zero")),
            "a device as an image": special("media/zero.png", lambda t: t.symlink_to("/dev/zero")),
            "a name of 240 letters": special("scenes/" + "n" * 240 + ".scene.jsonl", lambda t: t.write_text("x")),
            "a name with orders for a terminal": special("scenes/\x1b[2J.scene.jsonl", lambda t: t.write_text("x")),
            "a name that is no UTF-8": special(os.fsdecode(b"kinds/\xff\xfe.kind.json"), lambda t: t.write_text("x")),
        }
        for n, uri in enumerate(("../../outside/x.glb", "..%2F..%2Foutside%2Fx.glb", "%2e%2e/%2e%2e/outside/x.glb",
                                 "/etc/passwd", "file:///etc/passwd", "pipe.bin")):
            tricks[f"a model whose data is at {uri}"] = special(f"items/evil{n}.gltf",
                                                                lambda t, u=uri: t.write_text(gltf(u)))
        scene = {"gltf": {}}
        for n, gives in enumerate((dict(folder="../outside", gives=[scene]),
                                   dict(folder="out", gives=[dict(scene, file="../../outside/x.glb")]),
                                   dict(folder="out", gives=[scene], copy=["../outside"]),
                                   dict(folder="out", gives=[scene], enter=[
                                       {"file": "../outside/canary.txt", "as": "text", "at": secret}]))):
            text = json.dumps(dict(format="mellow-receiver", version=1, **gives))
            tricks[f"a receiver that leads outside, {n}"] = special("receivers/evil.receiver.json",
                                                                    lambda t, text=text: t.write_text(text))
        for name, make in tricks.items():
            outside = fresh()
            folder = self.project("paths")
            make(folder, outside)
            kept = self.contents(outside, but=())
            scene = folder / "scenes" / "lower-basin.scene.jsonl"
            for command in (("info", folder), ("validate-file", folder), ("check", folder),
                            ("set", scene, "oil=1.5", "--where", "kind:Lantern"), ("undo", folder, 3),
                            ("redo", folder, 3), ("handover", folder, "--to", "evil"), ("ledger", "check", folder), ("ledger", "repair", folder),
                            ("export", folder, "--to", folder / "scenes" / "lower-basin.scene.jsonl")):
                done = self.run(*command)
                if self.held(done, command) and secret.encode() in done.stdout + done.stderr:
                    self.fault(f"{name}: what lies outside is told", command, done)
            if self.contents(outside, but=()) != kept:
                self.lost(f"{name}: something outside of the project was changed: {sorted(self.contents(outside, but=()))}")


def main():
    parts = ("paths", "scripts", "ledger", "kill", "full", "mutate")
    arguments = argparse.ArgumentParser(description=__doc__)
    arguments.add_argument("--mellow", default=CHECKOUT / "build" / "release" / "bin" / "mellow")
    arguments.add_argument("--short", action="store_true", help="a minute of it, the same each time")
    arguments.add_argument("--minutes", type=float, default=0)
    arguments.add_argument("--seed", type=int, default=1)
    arguments.add_argument("--only", choices=parts, action="append")
    given = arguments.parse_args()
    until = time.monotonic() + given.minutes * 60
    attack = Attack(given.mellow, given.seed, given.short, until)
    try:
        for part in given.only or parts:
            before = attack.runs
            began = time.monotonic()
            getattr(attack, part)()
            print(f"{part}: {attack.runs - before} runs, {time.monotonic() - began:.0f} s", flush=True)
    finally:
        shutil.rmtree(attack.folder, ignore_errors=True)
    print(f"{attack.runs} runs, {attack.faults} faults, {attack.losses} losses")
    sys.exit(1 if attack.faults or attack.losses else 0)


if __name__ == "__main__":
    main()
