// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/formats/hdf5_writing.h"

#include <mutex>

namespace jointer::io {

hid_t textType() {
    const hid_t type = H5Tcopy(H5T_C_S1);
    H5Tset_size(type, H5T_VARIABLE);
    H5Tset_cset(type, H5T_CSET_UTF8);
    return type;
}

void writeAttribute(hid_t object, const char* name, const std::string& value) {
    if (value.empty()) return;
    const Handle type(textType(), H5Tclose), space(H5Screate(H5S_SCALAR), H5Sclose);
    const Handle attribute(H5Acreate2(object, name, type, space, H5P_DEFAULT, H5P_DEFAULT), H5Aclose);
    const char* text = value.c_str();
    H5Awrite(attribute, type, &text);
}

std::string hdf5Bytes(const std::function<bool(hid_t file)>& fill) {
    static std::mutex one; // the library is not thread-safe as Debian builds it
    const std::lock_guard lock(one);
    H5Eset_auto2(H5E_DEFAULT, nullptr, nullptr);
    const Handle access(H5Pcreate(H5P_FILE_ACCESS), H5Pclose), made(H5Pcreate(H5P_FILE_CREATE), H5Pclose);
    H5Pset_fapl_core(access, 1 << 20, false);
    H5Pset_obj_track_times(made, false);
    const Handle file(H5Fcreate("memory", H5F_ACC_TRUNC, made, access), H5Fclose);
    if (!(file >= 0) || !fill(file)) return {};
    H5Fflush(file, H5F_SCOPE_GLOBAL);
    const ssize_t size = H5Fget_file_image(file, nullptr, 0);
    std::string out(size > 0 ? static_cast<std::size_t>(size) : 0, '\0');
    if (size <= 0 || H5Fget_file_image(file, out.data(), out.size()) != size) return {};
    return out;
}

} // namespace jointer::io
