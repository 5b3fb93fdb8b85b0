// Loaded before a program (LD_PRELOAD): lets its Nth change of the disk be its last. ATTACK_CUT=kill:N ends the process
// there, ATTACK_CUT=full:N lets every write fail from there on as on a full disk. ATTACK_COUNT=FILE writes how many there
// were, at the end.
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <signal.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/types.h>
#include <unistd.h>

static long count, at = -1;
static int full;

__attribute__((constructor)) static void begin(void) {
    const char* cut = getenv("ATTACK_CUT");
    if (cut == NULL) return;
    full = strncmp(cut, "full:", 5) == 0;
    at = atol(cut + 5);
}
__attribute__((destructor)) static void end(void) {
    const char* file = getenv("ATTACK_COUNT");
    FILE* out = file != NULL ? fopen(file, "w") : NULL;
    if (out == NULL) return;
    fprintf(out, "%ld\n", count);
    fclose(out);
}

/// One more change of the disk. Nonzero: it is to fail.
static int change(int fd) {
    if (fd >= 0 && fd <= 2) return 0;
    const long n = __sync_add_and_fetch(&count, 1);
    if (at < 0 || n < at) return 0;
    if (!full) kill(getpid(), SIGKILL);
    errno = ENOSPC;
    return 1;
}

#define NEXT(name) static __typeof__(name)* next; if (next == NULL) next = (__typeof__(next))dlsym(RTLD_NEXT, #name)

ssize_t write(int fd, const void* bytes, size_t n) {
    NEXT(write);
    return change(fd) ? -1 : next(fd, bytes, n);
}
ssize_t pwrite(int fd, const void* bytes, size_t n, off_t where) {
    NEXT(pwrite);
    return change(fd) ? -1 : next(fd, bytes, n, where);
}
ssize_t pwrite64(int fd, const void* bytes, size_t n, off64_t where) {
    NEXT(pwrite64);
    return change(fd) ? -1 : next(fd, bytes, n, where);
}
int ftruncate(int fd, off_t size) {
    NEXT(ftruncate);
    return change(fd) ? -1 : next(fd, size);
}
int ftruncate64(int fd, off64_t size) {
    NEXT(ftruncate64);
    return change(fd) ? -1 : next(fd, size);
}
int fallocate(int fd, int mode, off_t where, off_t n) {
    NEXT(fallocate);
    return change(fd) ? -1 : next(fd, mode, where, n);
}
int fsync(int fd) {
    NEXT(fsync);
    return change(fd) && !full ? -1 : next(fd);
}
int fdatasync(int fd) {
    NEXT(fdatasync);
    return change(fd) && !full ? -1 : next(fd);
}
int rename(const char* from, const char* to) {
    NEXT(rename);
    return change(-1) && !full ? -1 : next(from, to);
}
int unlink(const char* path) {
    NEXT(unlink);
    return change(-1) && !full ? -1 : next(path);
}
int mkdir(const char* path, mode_t mode) {
    NEXT(mkdir);
    return change(-1) ? -1 : next(path, mode);
}
