// The demo's kinds and records, as their files have them.
#include <array>

#include "scenes.h"

namespace demo {

const std::vector<std::string>& kindFiles() {
    static const std::vector<std::string> all = {
        R"({"name":"Structure","category":"Building","help":"What stands still and can be walked on.","mark":"#a3a08b","takesImages":true,
            "smallestSize":0.05,"largestSize":100.0,"cost":1.0})",
        R"({"name":"Loose goods","category":"Market","help":"What can be picked up, pushed or carried off.",
            "mark":"#e0714f","smallestSize":0.5,"largestSize":2.0,"cost":3.0,"movingCost":5.0,"isMoved":true,"facts":["isMoved","weight"],
            "properties":[
              {"name":"weight","type":"number","help":"What one has to lift.","unit":"kg","low":0.1,"high":500,"step":0.5,"default":8.0},
              {"name":"belongsTo","type":"object","label":"Belongs to","help":"The barge or the stall it was taken from.","kinds":["Barge","Structure"]}]})",
        R"({"name":"Plant","category":"Plants","help":"Trees, hedges and reeds.","mark":"#8fbf5a","smallestSize":0.5,
            "largestSize":2.0,"cost":1.0})",
        R"({"name":"Animal","category":"Plants","help":"Herons, for now.","mark":"#b7c4cc","smallestSize":0.8,
            "largestSize":1.2,"cost":2.0})",
        R"({"name":"Water control","category":"Waterworks","help":"Gates, paddles and the windlasses that work them.",
            "mark":"#5aa9c4","smallestSize":1.0,"largestSize":1.0,"cost":6.0,"movingCost":4.0,"tints":false,
            "properties":[
              {"name":"opensAfter","type":"time","label":"Opens after","category":"Working","help":"From the turn of the windlass until the leaf moves.","unit":"s","low":0,"high":120,"step":0.5,"default":4.0},
              {"name":"serves","type":"list","label":"Serves","category":"Working","help":"What this one opens and shuts.","of":{"type":"object","label":"Leaf","kinds":["Water control"]}},
              {"name":"held","type":"bool","label":"Held shut","category":"Working","help":"Until a windlass lets it go.","default":true},
              {"name":"state","type":"choice","label":"At the start","category":"Working","choices":["shut","open","broken"],"default":"shut"},
              {"name":"swing","type":"range","label":"Swings between","category":"Shape","unit":"°","low":-180,"high":180,"default":[0.0,72.5]},
              {"name":"speed","type":"curve","label":"Speed","category":"Shape","help":"Share of full speed over the swing.","default":[[0.0,0.2],[0.5,1.0],[1.0,0.1]]}],
            "facts":["movingCost","opensAfter"],
            "buttons":[{"label":"Next state","does":"next","property":"state"},{"label":"Reset all","does":"reset"}],
            "appearances":[{"when":"state=broken","tint":[1.0,0.35,0.3],"badge":"broken"},{"when":"state=open","badge":"open"}]})",
        R"({"name":"Lantern","category":"Towpath","help":"Lit at dusk.","mark":"#e0a84a","smallestSize":1.0,
            "largestSize":1.0,"cost":3.0,
            "properties":[
              {"name":"lit","type":"bool","label":"Lit at dusk","category":"Light","default":true},
              {"name":"oil","type":"number","category":"Light","help":"How long it burns: about an hour to the litre.","unit":"l","low":0,"high":5,"step":0.1,"default":1.5,"shownIf":"lit"},
              {"name":"lantern","type":"record","label":"Lantern type","category":"Light","records":"lantern-type"},
              {"name":"glass","type":"colour","category":"Light","default":[1.0,0.78,0.42]}],
            "appearances":[{"when":"!lit","tint":[0.45,0.5,0.6],"badge":"dark"},{"when":"oil<0.5","badge":"low oil"}],
            "outfits":[{"name":"Low on oil","values":{"oil":0.3}},{"name":"Put out","values":{"lit":false},"tint":[0.7,0.72,0.75]}]})",
        R"({"name":"Lamp","category":"Lights","help":"A light without a shape of its own.","mark":"#e9e27c",
            "smallestSize":1.0,"largestSize":1.0,"cost":2.0,
            "facets":{"light":{"colour":[1,0.78,0.42],"intensity":30,"reach":9}}})",
        R"({"name":"Notice","category":"Towpath","help":"Shows an image.","mark":"#bba3e6","smallestSize":0.5,
            "largestSize":2.0,"cost":1.0,"mirrors":false,"takesImages":true,
            "properties":[
              {"name":"text","type":"long text","label":"Text","help":"What is read out when one stands before it."},
              {"name":"image","type":"media","help":"A file of the folder media."}]})",
        R"({"name":"Barge","category":"Barges","help":"Has a crew and a cargo.","mark":"#5aa9c4","smallestSize":1.0,
            "largestSize":1.0,"cost":8.0,"movingCost":12.0,
            "properties":[
              {"name":"crew","type":"record","records":"crew","required":true},
              {"name":"cargo","type":"list","of":{"type":"record","label":"Cargo","records":"cargo"}},
              {"name":"draught","type":"number","unit":"m","low":0.2,"high":2,"step":0.05,"default":0.6},
              {"name":"flags","type":"flags","label":"Flies","choices":["pennant","lantern","market flag"]}]})",
        R"({"name":"Walker start","category":"Required","help":"Where the player begins; every scene needs one.",
            "mark":"#93b56c","smallestSize":1.0,"largestSize":1.0,"cost":0.0,"needed":"one","facts":["needed"]})",
        R"({"name":"Finish","category":"Required","help":"Where the level ends.","mark":"#93b56c","smallestSize":1.0,
            "largestSize":1.0,"cost":0.0,"needed":"some","facts":["needed"]})",
        R"({"name":"Camera","category":"Cameras","help":"A view the game can take.","mark":"#bcb8a3","smallestSize":1.0,
            "largestSize":1.0,"cost":0.0,"facets":{"camera":{}}})",
        R"({"name":"Note","category":"Notes","help":"A remark for colleagues; the game does not see it.",
            "mark":"#bba3e6","smallestSize":1.0,"largestSize":1.0,"cost":0.0,
            "facets":{"note":"Write here what should be remembered."}})"};
    return all;
}

const std::vector<RecordFile>& recordFiles() {
    static const std::vector<RecordFile> all = {
        {"crew",
         R"({"label":"Crew","help":"Who works a barge.","properties":[
              {"name":"master","type":"text","required":true},{"name":"hands","type":"integer","low":1,"high":12,"default":2},
              {"name":"song","type":"long text","help":"What they sing at the locks."}]})",
         {R"({"id":"5a0c4be19d0f3a01","name":"The Otter’s crew","master":"Hanne of the Weir","hands":3})",
          R"({"id":"5a0c4be19d0f3a02","name":"The Teal’s crew","master":"Old Brook","hands":2})",
          R"({"id":"5a0c4be19d0f3a03","name":"Market hands","master":"Miller’s Ruth","hands":5})"}},
        {"cargo",
         R"({"label":"Cargo","help":"What a barge carries.","properties":[
              {"name":"weight","type":"number","unit":"t","low":0,"high":40,"default":4.0},
              {"name":"spoils","type":"bool","help":"After two days on the water."}]})",
         {R"({"id":"5a0c4be19d0f3b01","name":"Pears","weight":3.5,"spoils":true})",
          R"({"id":"5a0c4be19d0f3b02","name":"Stone","weight":18.0})",
          R"({"id":"5a0c4be19d0f3b03","name":"Cloth","weight":2.0})"}},
        {"lantern-type",
         R"({"label":"Lantern type","help":"What several lanterns have in common.","properties":[
              {"name":"reach","type":"number","unit":"m","low":1,"high":40,"default":9.0},
              {"name":"burns","type":"time","label":"Burns for","unit":"s","low":0,"default":5400.0}]})",
         {R"({"id":"5a0c4be19d0f3c01","name":"Towpath lantern","reach":9.0,"burns":5400.0})",
          R"({"id":"5a0c4be19d0f3c02","name":"Lock lantern","reach":14.0,"burns":7200.0})"}}};
    return all;
}

const std::vector<std::string>& surfaceLines() {
    static const std::vector<std::string> all = {
        R"({"name":"brass","label":"Old brass","category":"Metal","colour":[0.52,0.37,0.12],"roughness":0.25,"size":1.0})",
        R"({"name":"heron-cloth","label":"Heron cloth","category":"Market","colour":[0.9,0.86,0.72],"roughness":0.95,"image":"heron-cloth.png","size":1.2})",
        R"({"name":"ice","label":"Ice","category":"Ground","colour":[0.55,0.66,0.72],"roughness":0.12,"size":4.0})",
        R"({"name":"market-red","label":"Market red","category":"Paint","colour":[0.5,0.08,0.06],"roughness":0.55,"size":1.0})",
        R"({"name":"moss-stone","label":"Mossy stone","category":"Stone","colour":[0.24,0.28,0.16],"roughness":0.95,"size":2.0})",
        R"({"name":"rime","label":"Rime","category":"Ground","colour":[0.78,0.83,0.86],"roughness":0.9,"size":2.0})",
        R"({"name":"wet-oak","label":"Wet oak","category":"Wood","colour":[0.13,0.08,0.045],"roughness":0.35,"size":0.8})"};
    return all;
}

const std::vector<std::string>& guiseLines() {
    static const std::vector<std::string> all = {
        R"({"name":"Frost","surfaces":{"Bed":"rime","Dark leaf":"rime","Deep grass":"rime","Grass":"rime","Gravel":"rime","Leaf":"rime","Meadow":"rime","Pale leaf":"rime","Path":"rime","Reed":"rime","Reed top":"rime","Water":"ice"},"tints":{"Loose goods":[0.85,0.9,0.95]},"light":{"sunHeight":11.0,"sunColour":[0.95,0.94,1.0],"sunStrength":0.9,"sky":[0.74,0.8,0.88],"ground":[0.6,0.64,0.68],"haze":260.0}})"};
    return all;
}

const std::vector<std::string>& mixLines() {
    static const std::vector<std::string> all = {
        R"({"name":"River bank","items":{"alder":1.0,"reed-clump-1":6.0,"reed-clump-2":4.0,"reed-clump-3":3.0}})"};
    return all;
}

const std::vector<std::string>& setLines() {
    static const std::vector<std::string> all = {
        R"({"name":"Path","cell":2.0,"pieces":{"path-alone":"","path-corner":"ne","path-cross":"nesw","path-end":"n","path-straight":"ns","path-tee":"nes"}})"};
    return all;
}

const std::vector<std::string>& checkLines() {
    static const std::vector<std::string> lines = {
        R"({"rule":"area-budget","lights":10})",
        R"({"rule":"below-ground","ground":"item:valley-ground"})",
        R"({"rule":"budget","objects":355})",
        R"({"rule":"floating","except":"item:water-sheet, item:heron-flying, item:footbridge, kind:Plant"})",
        R"({"rule":"images","side":128})",
        R"({"rule":"item-folder","folders":"Barges, Building, Market, Paving, Plants, Towpath, Waterworks"})",
        R"({"rule":"left-protected","offKinds":["Structure","Loose goods"]})",
        R"({"rule":"name-pattern","where":"kind:Notice","pattern":"*notice*"})",
        R"({"rule":"out-of-reach","where":"item:windlass"})",
        R"({"rule":"outside","low":[-220,-30,-140],"high":[329.5,60,140],"except":"trial, nothing, item:valley-ground"})",
        R"({"rule":"overlapping","allowed":"Plant+Structure, Plant+Plant, Structure+Water control"})",
        R"({"rule":"same-names","where":"kind:Notice"})",
        R"({"rule":"solid-area","most":150})",
        R"({"rule":"would-move","where":"item:pear-crate"})",
        R"({"rule":"sunk","except":"item:lock-wall, item:coping, item:hedge, item:milestone, item:gravel-heap, \"leaf pair\""})",
        R"({"rule":"unused-prefab","off":true})"};
    return lines;
}

}  // namespace demo
