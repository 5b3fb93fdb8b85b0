#include "faults/calls.h"

#include <dlfcn.h>
#include <fcntl.h>
#include <signal.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>

namespace faults {

namespace {

bool armed = false;
How wrong = How::Count;
int left = -1, seen = 0;

void end() {
    raise(SIGKILL);
}

/// Is it this call's turn to go wrong? Ends the process when that is how, unless it tears what this call writes.
bool goesWrong(bool writes = false) {
    if (!armed) return false;
    ++seen;
    if (left < 0 || left-- > 0) return false;
    if (wrong == How::Kill || (wrong == How::Tear && !writes)) end();
    return wrong != How::Count;
}

bool isFile(int fd) {
    struct stat status {};
    return fstat(fd, &status) == 0 && S_ISREG(status.st_mode);
}

int full() {
    errno = ENOSPC;
    return -1;
}

}  // namespace

void arm(How how, int at) {
    wrong = how;
    left = at;
    seen = 0;
    armed = true;
}

int disarm() {
    armed = false;
    return seen;
}

}  // namespace faults

// The names the C library has for them: a program's own come first.
namespace {

template <class Call>
Call next(const char* name) {
    return reinterpret_cast<Call>(dlsym(RTLD_NEXT, name));
}

}  // namespace

extern "C" {

ssize_t write(int fd, const void* bytes, size_t count) {
    static const auto real = next<ssize_t (*)(int, const void*, size_t)>("write");
    if (!faults::armed || !faults::isFile(fd) || !faults::goesWrong(true)) return real(fd, bytes, count);
    if (faults::wrong == faults::How::Fail) return faults::full();
    (void)real(fd, bytes, count / 2);
    faults::end();
    return -1;
}

ssize_t pwrite64(int fd, const void* bytes, size_t count, off64_t at) {
    static const auto real = next<ssize_t (*)(int, const void*, size_t, off64_t)>("pwrite64");
    if (!faults::goesWrong(true)) return real(fd, bytes, count, at);
    if (faults::wrong == faults::How::Fail) return faults::full();
    (void)real(fd, bytes, count / 2, at);
    faults::end();
    return -1;
}

int fsync(int fd) {
    static const auto real = next<int (*)(int)>("fsync");
    if (faults::goesWrong()) return faults::full();
    return faults::armed ? 0 : real(fd);  // the machine goes on when the process ends: nothing is lost by waiting less
}

int fdatasync(int fd) {
    static const auto real = next<int (*)(int)>("fdatasync");
    if (faults::goesWrong()) return faults::full();
    return faults::armed ? 0 : real(fd);
}

int ftruncate64(int fd, off64_t length) noexcept {
    static const auto real = next<int (*)(int, off64_t)>("ftruncate64");
    return faults::goesWrong() ? faults::full() : real(fd, length);
}

int rename(const char* from, const char* to) noexcept {
    static const auto real = next<int (*)(const char*, const char*)>("rename");
    return faults::goesWrong() ? faults::full() : real(from, to);
}

int unlink(const char* path) noexcept {
    static const auto real = next<int (*)(const char*)>("unlink");
    return faults::goesWrong() ? faults::full() : real(path);
}

}  // extern "C"
