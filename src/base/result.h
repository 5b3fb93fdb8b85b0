#pragma once
// What a recoverable failure is. Every function that can fail for a reason a designer may meet
// returns Result<T>; no exception leaves a room.
#include <string>
#include <tl/expected.hpp>

namespace base {

enum class ErrorCode {
    BadInput,     ///< what was given is malformed or out of range
    NotFound,     ///< a file, object or name that should exist does not
    Unsupported,  ///< well-formed, but beyond what we read or write
    Io,           ///< the system refused: full disk, permissions
    InUse,        ///< somebody else holds it
    Cancelled,    ///< stopped by whoever asked for it
    Refused,      ///< not allowed in this state (read-only project, nothing to undo)
    Denied,       ///< the system does not let us write there
    Changed,      ///< somebody else has written the file since it was read
    BadLedger,    ///< the history is damaged, foreign or newer; the project itself may be well
};

/// A failure: `message` is a whole sentence a designer can act on, naming what and where.
struct Error {
    ErrorCode code = ErrorCode::BadInput;
    std::string message;
};

template <class T>
using Result = tl::expected<T, Error>;
using Status = Result<void>;

inline tl::unexpected<Error> fail(ErrorCode code, std::string message) {
    return tl::unexpected<Error>(Error{code, std::move(message)});
}

}  // namespace base
