// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/memory.h"

#if defined(__GLIBC__)
#include <malloc.h>
#endif

namespace jointer {

void keepFreedMemory() {
#if defined(__GLIBC__)
    constexpr int kMb = 1 << 20;
    mallopt(M_MMAP_THRESHOLD, 32 * kMb); // the most that it takes; larger lists come and go by themselves
    mallopt(M_TRIM_THRESHOLD, 256 * kMb);
#endif
}

void giveBackFreedMemory() {
#if defined(__GLIBC__)
    malloc_trim(0);
#endif
}

} // namespace jointer
