// SPDX-License-Identifier: GPL-3.0-or-later
// Marks a numeric loop that is compiled twice, for any x86-64 and for processors with AVX2 and FMA, chosen at run
// time. Elsewhere, and under sanitizers, it is compiled once.
#pragma once

#if defined(__GNUC__) && !defined(__clang__) && defined(__x86_64__) && !defined(JOINTER_SANITIZED)
#define JOINTER_KERNEL __attribute__((target_clones("default", "arch=x86-64-v3")))
#else
#define JOINTER_KERNEL
#endif

namespace jointer {

// Four numbers in one register, where there are such; they may lie anywhere in memory.
using Four = double __attribute__((vector_size(32), aligned(8), may_alias));

inline const Four& fourAt(const double* p) {
    return *reinterpret_cast<const Four*>(p);
}
inline Four& fourAt(double* p) {
    return *reinterpret_cast<Four*>(p);
}
inline double sumOf(const Four& v) {
    return (v[0] + v[1]) + (v[2] + v[3]);
}

} // namespace jointer
