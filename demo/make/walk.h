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

}  // namespace demo
