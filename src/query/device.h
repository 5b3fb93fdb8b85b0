#pragma once
// Embree's device, for this room's sources only.
struct RTCDeviceTy;

namespace query {

/// One device for the process: Embree counts its users, and it holds no state of ours.
RTCDeviceTy* device();

}  // namespace query
