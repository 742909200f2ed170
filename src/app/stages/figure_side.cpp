// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/figure_side.h"

#include "app/forms/settings_form.h"
#include "app/panes/class_rows.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/actions.h"
#include "figure/drawn_as.h"
#include "figure/kinds.h"
#include "project/figure_edits.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace jointer::app {

namespace {

// What belongs to an element itself and is no look.
bool isLook(const std::string& key) {
    static const std::string own[] = {
        "side",     "text",     "linked-to",  "x-axis",     "y-axis", "lane", "datasets", "by-hand",
        "member",   "range",    "at",         "expression", "name",   "unit", "label",    "x",
        "y",        "row",      "column",     "part",       "offset", "x-2",  "y-2",      "anchor",
        "anchor-2", "anchor-y", "anchor-y-2", "of",         "of-2",   "form", "together", "stands-for"};
    return std::ranges::find(own, key) == std::end(own);
}

// What one dataset of a group may have of its own.
const KindInfo& memberKind() {
    static const KindInfo kind = [] {
        KindInfo k{.key = "member", .name = "Dataset of a group", .purpose = {}};
        k.settings = figure::elementKinds().find("group")->find("by-hand")->row;
        std::erase_if(k.settings, [](const Setting& s) { return s.key == "dataset"; });
        for (Setting& s : k.settings) {
            const KindInfo* points = figure::elementKinds().find("points-line");
            if (s.key != "symbol" && s.key != "dash") continue;
            s.kind = SettingKind::Choice;
            s.choices = points->find(s.key)->choices;
        }
        return k;
    }();
    return kind;
}

} // namespace

std::string elementName(const Project& p, const Element& e) {
    if (e.kind == "axis") {
        const std::string side = e.settings.text("side", "bottom");
        std::string name =
            static_cast<char>(std::toupper(static_cast<unsigned char>(side[0]))) + side.substr(1) + " axis";
        const int lane = e.settings.integer("lane");
        return lane > 0 ? name + ", lane " + std::to_string(lane) : name;
    }
    const KindInfo* kind = figure::elementKinds().find(e.kind);
    std::string name = kind ? kind->name : e.kind;
    if (e.kind == "panel" && e.settings.text("place") == "inset") name = "Inset";
    if (const auto d = p.datasets.find(DatasetId::fromText(e.source))) name += " of " + d->name;
    if (const auto a = p.assets.find(AssetId::fromText(e.source))) name += " " + a->name;
    if (const auto f = p.figures.find(FigureId::fromText(e.source))) name = "Figure " + f->name;
    return name;
}

FigureSide::FigureSide(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), crumbs_(new QWidget), form_(new SettingsForm),
      member_(new SettingsForm), classes_(new ClassRows), issues_(warningLabel()), hint_(muted({})),
      facts_(muted({})), memberTitle_(caption({})), groupTitle_(caption(tr("The whole group"))),
      remove_(new QPushButton(tr("Remove"))), reset_(new QPushButton(tr("Give back all"))),
      copy_(new QPushButton(tr("Copy look"))), paste_(new QPushButton(tr("Paste look"))),
      style_(new QComboBox), drawnAs_(new QComboBox) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(crumbs_);
    layout->addWidget(buildInner(), 1);
    connect(form_, &SettingsForm::changed, this,
            [this](const QString& key, const Value& value) { give(key.toStdString(), value); });
    connect(form_, &SettingsForm::dragBegan, this, [this] { document_.beginDrag(); });
    connect(form_, &SettingsForm::dragEnded, this, [this] { document_.endDrag(); });
    connect(member_, &SettingsForm::changed, this,
            [this](const QString& key, const Value& value) { giveMember(key.toStdString(), value); });
    connect(remove_, &QPushButton::clicked, this,
            [this] { document_.apply(edits::removeElements(document_.figure(), document_.elements())); });
    connect(reset_, &QPushButton::clicked, this, &FigureSide::reset);
    connect(copy_, &QPushButton::clicked, this, &FigureSide::copyLook);
    connect(paste_, &QPushButton::clicked, this, &FigureSide::pasteLook);
}

QWidget* FigureSide::buildInner() {
    auto* inner = new QWidget;
    auto* innerLayout = new QVBoxLayout(inner);
    innerLayout->setContentsMargins(0, 0, 9, 0);
    hint_->setWordWrap(true);
    innerLayout->addWidget(hint_);
    facts_->setWordWrap(true);
    facts_->hide();
    innerLayout->addWidget(facts_);
    style_->setObjectName("houseStyle");
    style_->setAccessibleName(tr("House style"));
    style_->setToolTip(tr("House style: fonts, sizes and lines that all elements take unless they differ"));
    connect(style_, &QComboBox::activated, this, [this] {
        const StyleId id{style_->currentData().toULongLong()};
        document_.apply(
            edits::changeFigure(document_.figure(), "Choose house style", [id](Figure& f) { f.style = id; }));
    });
    innerLayout->addWidget(style_);
    editStyles_ = button(this, tr("Edit house styles…"), "link",
                         tr("What a style says of each kind of element, with a sample figure beside"),
                         [this] { Q_EMIT stylesWanted(); });
    innerLayout->addWidget(editStyles_, 0, Qt::AlignLeft);
    innerLayout->addWidget(memberTitle_);
    innerLayout->addWidget(member_);
    innerLayout->addWidget(groupTitle_);
    groupTitle_->hide(); // until a curve of a group is chosen
    drawnAs_->setObjectName("drawnAs");
    drawnAs_->setAccessibleName(tr("Drawn as"));
    drawnAs_->setToolTip(tr("The same data as another kind of mark; what both kinds have is kept"));
    connect(drawnAs_, &QComboBox::activated, this, [this] {
        document_.apply(figure::drawAs(document_.figure(), document_.elements(),
                                       drawnAs_->currentData().toString().toStdString()));
    });
    innerLayout->addWidget(drawnAs_);
    form_->foldGroups();
    innerLayout->addWidget(form_);
    innerLayout->addWidget(classes_);
    connect(classes_, &ClassRows::changed, this, &FigureSide::giveClasses);
    connect(classes_, &ClassRows::keepWanted, this, &FigureSide::keepClasses);
    innerLayout->addWidget(issues_);
    auto* looks = new QHBoxLayout;
    for (QPushButton* b : {reset_, copy_, paste_}) b->setObjectName("link");
    innerLayout->addWidget(reset_, 0, Qt::AlignLeft); // all four side by side would be cut
    for (QPushButton* b : {copy_, paste_}) looks->addWidget(b);
    reset_->setToolTip(tr("Take back all looks of this element that differ from the house style"));
    copy_->setToolTip(tr("Copy the look, to give it to others (Ctrl+Shift+C)"));
    paste_->setToolTip(tr("Give the copied look to all that is selected (Ctrl+Shift+V)"));
    remove_->setToolTip(tr("Remove the element from the figure (Delete)"));
    looks->addStretch(1);
    looks->addWidget(remove_);
    innerLayout->addLayout(looks);
    innerLayout->addStretch(1);
    return paneScroll(inner, tr("Properties"));
}

// Several of one kind change together; of other kinds those that have the setting.
void FigureSide::give(const std::string& key, const Value& value) {
    if (!document_.element()) {
        document_.apply(edits::setElement(document_.figure(), {}, key, value));
        return;
    }
    const auto figure = document_.project().figures.find(document_.figure());
    std::vector<ElementId> all;
    for (ElementId id : document_.elements()) {
        const Element* e = figure ? figure->find(id) : nullptr;
        const KindInfo* kind = e ? figure::elementKinds().find(e->kind) : nullptr;
        if (kind && kind->find(key)) all.push_back(id);
    }
    if (all.size() > 1)
        document_.apply(edits::setElements(document_.figure(), all, key, value));
    else
        document_.apply(edits::setElement(document_.figure(), document_.element(), key, value));
}

void FigureSide::giveMember(const std::string& key, const Value& value) {
    const auto figure = document_.project().figures.find(document_.figure());
    const auto chain =
        figure ? chainTo(figure->elements, document_.element()) : std::vector<const Element*>();
    const auto group = std::ranges::find(chain, "group", &Element::kind);
    if (group == chain.end()) return;
    RowList rows = (*group)->settings.rows("by-hand");
    const std::string id = document_.elementDataset().text();
    auto own =
        std::ranges::find_if(rows, [&](const Settings& row) { return row.reference("dataset") == id; });
    if (own == rows.end()) {
        Settings row;
        row.set("dataset", Value(Reference{id}));
        own = rows.insert(rows.end(), std::move(row));
    }
    if (std::holds_alternative<std::monostate>(value))
        own->remove(key);
    else
        own->set(key, value);
    if (own->entries().size() < 2) rows.erase(own);
    document_.apply(
        edits::setElement(document_.figure(), (*group)->id, "by-hand",
                          rows.empty() ? Value() : Value(std::make_shared<const RowList>(std::move(rows)))));
}

void FigureSide::reset() {
    const auto figure = document_.project().figures.find(document_.figure());
    std::vector<Edit> all;
    for (ElementId id : document_.elements())
        if (const Element* e = figure ? figure->find(id) : nullptr)
            for (const auto& [key, value] : e->settings.entries())
                if (isLook(key)) all.push_back(edits::setElement(figure->id, id, key, Value()));
    if (!all.empty()) document_.apply(edits::together("Give back to style", all));
}

void FigureSide::copyLook() {
    const auto figure = document_.project().figures.find(document_.figure());
    const Element* e = figure && document_.element() ? figure->find(document_.element()) : nullptr;
    if (!e) return;
    look_ = {.kind = e->kind};
    for (const auto& [key, value] : e->settings.entries())
        if (isLook(key)) look_.settings.set(key, value);
    paste_->setEnabled(true);
    document_.say(tr("The look is copied; select others and paste it."));
}

// What the other kind has too is given; what the copied one has from the style goes back to it.
void FigureSide::pasteLook() {
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure || look_.kind.empty()) return;
    std::vector<Edit> all;
    for (ElementId id : document_.elements()) {
        const Element* e = figure->find(id);
        const KindInfo* kind = e ? figure::elementKinds().find(e->kind) : nullptr;
        if (!kind) continue;
        for (const auto& [key, value] : e->settings.entries())
            if (isLook(key) && e->kind == look_.kind && !look_.settings.has(key))
                all.push_back(edits::setElement(figure->id, id, key, Value()));
        for (const auto& [key, value] : look_.settings.entries())
            if (kind->find(key)) all.push_back(edits::setElement(figure->id, id, key, value));
    }
    if (!all.empty()) document_.apply(edits::together("Paste look", all));
}

void FigureSide::showIssues(const QStringList& issues) {
    say(issues_, issues.join("\n"));
}

void FigureSide::showFacts(const QString& facts) {
    facts_->setText(facts);
    facts_->setVisible(!facts.isEmpty());
}

bool FigureSide::setTimes(bool times) {
    if (times == times_) return false;
    times_ = times;
    form_->setTimes(times);
    built_.clear();
    return true;
}

void FigureSide::refresh() {
    const Project& p = document_.project();
    const auto figure = p.figures.find(document_.figure());
    const Element* e = figure && document_.element() ? figure->find(document_.element()) : nullptr;
    const KindInfo* kind = figure ? figure::elementKinds().find(e ? e->kind : "figure") : nullptr;
    form_->setVisible(kind != nullptr);
    remove_->setVisible(e != nullptr);
    const bool differs = e && std::ranges::any_of(e->settings.entries(),
                                                  [](const auto& entry) { return isLook(entry.first); });
    reset_->setVisible(differs);
    copy_->setVisible(e != nullptr);
    paste_->setVisible(e != nullptr);
    paste_->setEnabled(hasLook());
    style_->setVisible(figure && !e);
    editStyles_->setVisible(figure && !e);
    style_->clear();
    for (const auto& s : p.styles)
        style_->addItem(tr("House style: %1").arg(text(s->name)),
                        QVariant::fromValue<qulonglong>(s->id.value));
    if (figure)
        style_->setCurrentIndex(style_->findData(QVariant::fromValue<qulonglong>(figure->style.value)));
    const std::size_t several = document_.elements().size();
    hint_->setVisible(figure && (!e || several > 1));
    hint_->setText(several > 1
                       ? tr("%1 elements are selected; what you set goes to all that have it.").arg(several)
                       : tr("Click an axis, a curve, the legend or a note on the page to change it; "
                            "double-click edits text in place."));
    offerKinds(e);
    if (!kind) {
        built_.clear();
        if (crumbs_->layout()) clearLayout(crumbs_->layout());
        return;
    }
    showMember(*figure, e);
    const auto style = p.styles.find(figure->style);
    const Settings own = e ? e->settings : figure->settings;
    const auto inForce = [kind, own, style](const std::string& key) {
        return figure::Look(*kind, own, style.get()).value(key);
    };
    const std::string wanted =
        figure->id.text() + figure->name + figure->style.text() + "/" + document_.element().text() + kind->key;
    offerReferences(*figure, e);
    if (wanted == built_) return form_->sync(own, inForce);
    built_ = wanted;
    form_->show(*kind, own, inForce);
    showCrumbs(*figure, e);
}

void FigureSide::offerKinds(const Element* e) {
    const auto kinds = e ? figure::kindsInPlaceOf(*e) : std::vector<const figure::MarkKind*>();
    drawnAs_->setVisible(kinds.size() > 1);
    drawnAs_->clear();
    for (const figure::MarkKind* kind : kinds) {
        drawnAs_->addItem(tr("Drawn as: %1").arg(text(kind->info.name)), text(kind->info.key));
        drawnAs_->setItemData(drawnAs_->count() - 1, text(kind->info.purpose), Qt::ToolTipRole);
    }
    if (e) drawnAs_->setCurrentIndex(drawnAs_->findData(text(e->kind)));
}

// What settings of the element may refer to.
void FigureSide::offerReferences(const Figure& figure, const Element* e) {
    const Project& p = document_.project();
    using Choices = std::vector<std::pair<std::string, std::string>>;
    Choices datasets, axes, columns, anyColumns, panels;
    for (const auto& d : p.datasets) datasets.emplace_back(d->id.text(), d->name);
    const auto chain = e ? chainTo(figure.elements, e->id) : std::vector<const Element*>();
    for (const Element* above : chain)
        if (figure::isPanel(above->kind) && above != e)
            for (const Element& c : above->children)
                if (c.kind == "axis" && &c != e) axes.emplace_back(c.id.text(), elementName(p, c));
    if (const auto t = e ? p.tables.find(TableId::fromText(e->source)) : nullptr)
        for (const Column& c : t->columns) columns.emplace_back(c.id.text(), c.name);
    if (const auto d = e ? p.datasets.find(DatasetId::fromText(e->source)) : nullptr)
        if (const auto t = p.tables.find(d->source.table))
            for (const Column& c : t->columns) {
                anyColumns.emplace_back(c.id.text(), c.name);
                if (c.isNumeric()) columns.push_back(anyColumns.back());
            }
    for (const auto& f : p.figures)
        for (const Element& other : f->elements)
            if (other.kind == "panel" && &other != e) panels.emplace_back(other.id.text(), f->name);
    // Of a group's mark what any of its datasets has.
    Choices companions;
    std::vector<std::string> shown = {e ? e->source : std::string()};
    for (const Element* above : chain)
        if (above->kind == "group") shown = above->settings.references("datasets");
    for (const std::string& id : shown)
        for (const Element& mark : figure::companionMarks(p, DatasetId::fromText(id)))
            if (const std::string name = mark.settings.text("companion");
                std::ranges::find(companions, std::pair(name, name)) == companions.end())
                companions.emplace_back(name, name);
    form_->offer("companion", companions);
    form_->offer("dataset", datasets);
    form_->offer("axis", axes);
    form_->offer("column", columns);
    form_->offer("any column", anyColumns);
    form_->offer("panel", panels);
    form_->offer("step", e ? document_.placesOf(DatasetId::fromText(e->source)) : Choices());
}

void FigureSide::showMember(const Figure& figure, const Element* e) {
    const auto chain = e ? chainTo(figure.elements, e->id) : std::vector<const Element*>();
    const auto group = std::ranges::find(chain, "group", &Element::kind);
    const auto dataset = document_.project().datasets.find(document_.elementDataset());
    const bool shown = group != chain.end() && dataset;
    member_->setVisible(shown);
    memberTitle_->setVisible(shown);
    groupTitle_->setVisible(shown);
    if (!shown) return;
    memberTitle_->setText(tr("Only %1").arg(text(dataset->name)));
    Settings own;
    for (const Settings& row : (*group)->settings.rows("by-hand"))
        if (row.reference("dataset") == dataset->id.text()) own = row;
    own.remove("dataset");
    const std::string wanted = (*group)->id.text() + dataset->id.text();
    const auto inForce = [own](const std::string& key) {
        const Value* v = own.find(key);
        return v ? *v : Value();
    };
    if (wanted == memberBuilt_) return member_->sync(own, inForce);
    memberBuilt_ = wanted;
    member_->show(memberKind(), own, inForce);
}

void FigureSide::showCrumbs(const Figure& figure, const Element* e) {
    if (QLayout* old = crumbs_->layout()) {
        clearLayout(old);
        delete old; // a layout handles no events
    }
    auto* row = new QHBoxLayout(crumbs_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(5);
    const auto chain = e ? chainTo(figure.elements, e->id) : std::vector<const Element*>();
    auto crumb = [&](const std::string& name, ElementId id, bool last) {
        if (row->count() > 0) row->addWidget(new QLabel("›"));
        QPushButton* made = nameButton(this, text(name), "link", {}, [this, id] { document_.selectElement(id); });
        if (last) made->setStyleSheet(QString("color: %1;").arg(theme().ink.name()));
        row->addWidget(made);
    };
    crumb(chain.empty() ? figure.name : "Figure", {}, chain.empty());
    for (const Element* c : chain) crumb(elementName(document_.project(), *c), c->id, c == chain.back());
    row->addStretch(1);
}

void FigureSide::focusSetting(ElementId element, const std::string& key) {
    if (document_.element() != element) document_.selectElement(element);
    refresh();
    form_->focusOn(key);
}

} // namespace jointer::app
