#pragma once
// The calls by which this process writes to files (write, pwrite, sync, truncate, rename, unlink), its libraries' too.
// One of them can be made to fail, or the process to end before it.
namespace faults {

enum class How {
    Count,
    Fail,  ///< it does nothing and says that the disk is full, once
    Kill,  ///< the process ends before it
    Tear,  ///< half of what it was to write is written, then the process ends
};

/// From now on calls are counted, and the one of this number (from 0) goes wrong. Not for several threads.
void arm(How how, int at = -1);
/// All goes well again. Gives how many there were.
int disarm();

}  // namespace faults
