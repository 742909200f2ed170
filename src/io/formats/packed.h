// SPDX-License-Identifier: GPL-3.0-or-later
// What a reader found, as bytes and back: for readers that work in a process of their own.
#pragma once

#include "io/formats/variables.h"

#include <cstring>
#include <type_traits>

namespace jointer::io {

class Packer {
public:
    std::string& bytes() { return bytes_; }

    template <class T>
    requires std::is_arithmetic_v<T>
    void put(T value) { bytes_.append(reinterpret_cast<const char*>(&value), sizeof value); }
    void put(const std::string& text) {
        put(text.size());
        bytes_ += text;
    }
    void put(const Issue& issue) {
        put(issue.code);
        put(issue.text);
        put(issue.place.line);
        put(issue.place.column);
    }
    template <class A, class B> void put(const std::pair<A, B>& pair) {
        put(pair.first);
        put(pair.second);
    }
    void put(const std::vector<double>& values) {
        put(values.size());
        bytes_.append(reinterpret_cast<const char*>(values.data()), values.size() * sizeof(double));
    }
    template <class T> void put(const std::vector<T>& items) {
        put(items.size());
        for (const T& item : items) put(item);
    }
    template <class T> void put(const std::map<std::string, T>& items) {
        put(items.size());
        for (const auto& item : items) put(item);
    }
    void put(const Variable& v) {
        put(v.name);
        put(v.group);
        put(v.axes);
        put(v.sizes);
        put(v.values);
        put(v.texts);
        put(v.isScale);
        put(v.isBoolean);
        put(v.numbers);
        put(v.words);
    }

private:
    std::string bytes_;
};

// Takes in the order in which was put; after bytes that do not fit nothing more is taken.
class Unpacker {
public:
    explicit Unpacker(std::string_view bytes) : bytes_(bytes) {}
    bool good() const { return good_; }

    template <class T>
    requires std::is_arithmetic_v<T>
    void take(T& value) {
        if (const char* from = next(sizeof value)) std::memcpy(&value, from, sizeof value);
    }
    void take(std::string& text) {
        const std::size_t n = count(1);
        if (const char* from = next(n)) text.assign(from, n);
    }
    void take(Issue& issue) {
        take(issue.code);
        take(issue.text);
        take(issue.place.line);
        take(issue.place.column);
    }
    template <class A, class B> void take(std::pair<A, B>& pair) {
        take(pair.first);
        take(pair.second);
    }
    void take(std::vector<double>& values) {
        const std::size_t n = count(sizeof(double));
        const char* from = next(n * sizeof(double));
        if (!from || n == 0) return;
        values.resize(n);
        std::memcpy(values.data(), from, n * sizeof(double));
    }
    template <class T> void take(std::vector<T>& items) {
        for (std::size_t n = count(1); n > 0 && good_; --n) take(items.emplace_back());
    }
    template <class T> void take(std::map<std::string, T>& items) {
        for (std::size_t n = count(1); n > 0 && good_; --n) {
            std::pair<std::string, T> item;
            take(item);
            items.insert(std::move(item));
        }
    }
    void take(Variable& v) {
        take(v.name);
        take(v.group);
        take(v.axes);
        take(v.sizes);
        take(v.values);
        take(v.texts);
        take(v.isScale);
        take(v.isBoolean);
        take(v.numbers);
        take(v.words);
    }

private:
    const char* next(std::size_t n) {
        if (!good_ || n > bytes_.size() - at_) {
            good_ = false;
            return nullptr;
        }
        at_ += n;
        return bytes_.data() + at_ - n;
    }
    std::size_t count(std::size_t each) {
        std::size_t n = 0;
        take(n);
        if (n > (bytes_.size() - at_) / each) good_ = false;
        return good_ ? n : 0;
    }

    std::string_view bytes_;
    std::size_t at_ = 0;
    bool good_ = true;
};

} // namespace jointer::io
