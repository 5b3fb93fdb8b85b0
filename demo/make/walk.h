#pragma once
// Written walks of the demo, as their files have them.
namespace demo {

/// Along the towpath, over the footbridge and to the lock, where the windlass is turned.
inline constexpr const char* kTowpathWalk = R"(mellow-walk 1
name Along the towpath
scene lower-basin
go Crate of pears 1
take Crate of pears 1
go Bench 1
put
go Lantern post 5
go Footbridge
look Barge 1
go Windlass, right
use Windlass, right
wait 11
go Finish
)";

/// Wins the lower basin.
inline constexpr const char* kBargeWalk = R"(mellow-walk 1
name Raise the barge
scene lower-basin
start 7.4 0.3 9.2 0
use Windlass, right
look Barge 3
wait 58
)";

}  // namespace demo
