#pragma once
// A list of listeners. One thread.
#include <functional>
#include <map>

namespace edit {

template <class... Args>
class Signal {
  public:
    using Token = int;
    Token listen(std::function<void(Args...)> listener) {
        listeners_[next_] = std::move(listener);
        return next_++;
    }
    void forget(Token token) { listeners_.erase(token); }
    void tell(Args... args) const {
        auto copy = listeners_;  // a listener may add or remove listeners
        for (const auto& [token, listener] : copy) listener(args...);
    }

  private:
    std::map<Token, std::function<void(Args...)>> listeners_;
    Token next_ = 1;
};

}  // namespace edit
