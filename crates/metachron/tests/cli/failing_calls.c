/* Calls of the system that fail, for tests: a library to be loaded before libc's own
 * (LD_PRELOAD). The FAIL_AT-th of the calls below fails, and its name is written to the
 * file FAIL_SAYS; with FAIL_SHORT, reads and writes do no more than so many bytes at a time.
 */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <stdarg.h>
#include <stdatomic.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/file.h>
#include <sys/syscall.h>
#include <sys/uio.h>
#include <unistd.h>

static atomic_long calls;

static long number(const char *name) {
    const char *text = getenv(name);
    return text ? atol(text) : 0;
}

static int fails(const char *name, int error) {
    if (atomic_fetch_add(&calls, 1) + 1 != number("FAIL_AT")) return 0;
    const char *said = getenv("FAIL_SAYS");
    if (said) {
        int file = (int)syscall(SYS_openat, AT_FDCWD, said, O_WRONLY | O_CREAT | O_TRUNC, 0600);
        syscall(SYS_write, file, name, strlen(name));
        syscall(SYS_close, file);
    }
    errno = error;
    return 1;
}

static size_t at_most(size_t bytes) {
    size_t most = (size_t)number("FAIL_SHORT");
    return most && most < bytes ? most : bytes;
}

/* Defines the call `name`, which gives the `result` -1 with `error` where it fails. */
#define CALL(result, name, error, parameters, arguments)                                \
    result name parameters {                                                            \
        static result(*real) parameters;                                                \
        if (!real) *(void **)&real = dlsym(RTLD_NEXT, #name);                            \
        return fails(#name, error) ? (result)-1 : real arguments;                        \
    }

CALL(ssize_t, read, EIO, (int file, void *to, size_t n), (file, to, at_most(n)))
CALL(ssize_t, pread64, EIO, (int file, void *to, size_t n, off64_t at), (file, to, at_most(n), at))
CALL(ssize_t, write, ENOSPC, (int file, const void *from, size_t n), (file, from, at_most(n)))
CALL(ssize_t, writev, ENOSPC, (int file, const struct iovec *from, int n), (file, from, n))
CALL(off64_t, lseek64, EIO, (int file, off64_t to, int whence), (file, to, whence))
CALL(int, fsync, EIO, (int file), (file))
CALL(int, fdatasync, EIO, (int file), (file))
CALL(int, ftruncate64, EIO, (int file, off64_t size), (file, size))
CALL(int, fchmod, EPERM, (int file, mode_t mode), (file, mode))
CALL(int, chmod, EPERM, (const char *path, mode_t mode), (path, mode))
CALL(int, fchown, EPERM, (int file, uid_t user, gid_t group), (file, user, group))
CALL(int, chown, EPERM, (const char *path, uid_t user, gid_t group), (path, user, group))
CALL(int, flock, EWOULDBLOCK, (int file, int operation), (file, operation))
CALL(int, rename, EIO, (const char *from, const char *to), (from, to))
CALL(int, unlink, EIO, (const char *path), (path))

/* What is copied in the kernel is copied by `read` and `write` instead. */
ssize_t copy_file_range(int in, off64_t *at, int out, off64_t *to, size_t n, unsigned flags) {
    (void)in, (void)at, (void)out, (void)to, (void)n, (void)flags;
    errno = ENOSYS;
    return -1;
}

int open64(const char *path, int flags, ...) {
    static int (*real)(const char *, int, ...);
    if (!real) *(void **)&real = dlsym(RTLD_NEXT, "open64");
    va_list arguments;
    va_start(arguments, flags);
    mode_t mode = va_arg(arguments, mode_t);
    va_end(arguments);
    return fails("open64", EMFILE) ? -1 : real(path, flags, mode);
}
