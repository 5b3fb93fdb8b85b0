#pragma once
// How far long work has come, and the wish to stop it. Told by workers, read and cancelled from any thread.
#include <atomic>

namespace base {

class Progress {
  public:
    /// `share`: of the whole work, 0..1, done since the last call.
    void add(double share) { done_.fetch_add(share, std::memory_order_relaxed); }
    double done() const { return done_.load(std::memory_order_relaxed); }
    void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
    bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }

  private:
    std::atomic<double> done_{0.0};
    std::atomic<bool> cancelled_{false};
};

}  // namespace base
