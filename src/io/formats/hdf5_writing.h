// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of formats: files of HDF5 made in memory, without times, so that the same content is the same bytes.
#pragma once

#include "io/formats/hdf5_handle.h"

#include <functional>
#include <string>

namespace jointer::io {

hid_t textType(); // variable length, UTF-8; to be closed
void writeAttribute(hid_t object, const char* name, const std::string& value); // nothing where it is empty

// The bytes of a file into which `fill` writes; empty: it could not.
std::string hdf5Bytes(const std::function<bool(hid_t file)>& fill);

} // namespace jointer::io
