// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/asset_json.h"

#include "base/base64.h"
#include "base/text.h"
#include "project/json_reader.h"

namespace jointer {

namespace {

std::shared_ptr<const std::string> bytesOf(JsonReader& r, const std::string& key) {
    std::string text = r.text(key.c_str());
    const auto bytes = fromBase64(r.text((key + "-base64").c_str()));
    if (text.empty() && bytes) text = *bytes;
    return text.empty() ? nullptr : std::make_shared<const std::string>(std::move(text));
}

} // namespace

Json jsonWithBytes(const Asset& a) {
    Json out = {{"id", a.id.text()}, {"name", a.name}, {"type", a.type}, {"note", a.note}};
    const auto put = [&out](const std::string& key, const std::string& bytes) {
        const bool readable = bytes.starts_with("<") && validUtf8(bytes) == bytes;
        out[readable ? key : key + "-base64"] = readable ? bytes : base64(bytes);
    };
    put("original", *a.bytes);
    if (a.drawing) put("drawing", *a.drawing);
    return withExtra(std::move(out), a.extra);
}

Asset assetWithBytes(const Json& json) {
    JsonReader r(json);
    Asset a{
        .id = AssetId::fromText(r.text("id")), .name = r.text("name"), .type = r.text("type"), .bytes = {}};
    a.note = r.text("note");
    a.bytes = bytesOf(r, "original");
    a.drawing = bytesOf(r, "drawing");
    a.extra = r.extra();
    return a;
}

} // namespace jointer
