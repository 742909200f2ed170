// SPDX-License-Identifier: GPL-3.0-or-later
// An identifier of the HDF5 library that is closed with its scope.
#pragma once

#include <hdf5.h>

namespace jointer::io {

class Handle {
public:
    Handle(hid_t id, herr_t (*close)(hid_t)) : id_(id), close_(close) {}
    Handle(const Handle&) = delete;
    ~Handle() {
        if (id_ >= 0) close_(id_);
    }
    operator hid_t() const { return id_; }

    bool isOpen() const { return id_ >= 0; }

private:
    hid_t id_;
    herr_t (*close_)(hid_t);
};

} // namespace jointer::io
