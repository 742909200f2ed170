// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/runs_view.h"

#include "app/forms/settings_form.h"
#include "app/panes/run_picture.h"
#include "app/panes/trend_plot.h"
#include "app/widgets.h"
#include "base/text.h"
#include "session/shipped_recipes.h"
#include "session/trend.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <mutex>

namespace jointer::app {

namespace {

constexpr int kShowAfter = 400; // ms between two looks at what is computed

} // namespace

struct RunsView::Computed {
    std::mutex mutex;
    std::map<DatasetId, RunCurve> curves;
    std::map<DatasetId, std::shared_ptr<const RunPicture>> pictures;
};

RunsView::RunsView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), run_(document), watch_(this), job_(this), choice_(new QComboBox),
      quantity_(new QComboBox), attribute_(new QComboBox), status_(muted({})), failures_(warningLabel()),
      bar_(new QProgressBar),
      stop_(button(this, tr("Stop"), "", tr("Stop the run; what is done stays"), [this] { run_.stop(); })),
      gallery_(new RunGallery), trend_(new TrendPlot), form_(new SettingsForm) {
    const auto [middle, sideLayout] = layOutStage(this);
    head_ = buildHead();
    middle->addWidget(head_);
    auto* statusRow = new QHBoxLayout;
    status_->setWordWrap(true);
    statusRow->addWidget(status_, 1);
    bar_->setTextVisible(false);
    bar_->setFixedSize(140, 6);
    statusRow->addWidget(bar_);
    statusRow->addWidget(stop_);
    middle->addLayout(statusRow);
    middle->addWidget(failures_);
    middle->addWidget(buildWatch());
    empty_ = buildEmpty();
    middle->addWidget(empty_, 1);
    middle->addWidget(gallery_, 1);
    below_ = buildTrend();
    middle->addWidget(below_);

    sideLayout->addWidget(buildSide());
    connectParts();
    refresh();
}

QWidget* RunsView::buildSide() {
    auto* inner = new QWidget;
    auto* layout = new QVBoxLayout(inner);
    layout->setContentsMargins(0, 0, 6, 0);
    side_ = new QVBoxLayout;
    side_->setSpacing(2);
    layout->addLayout(side_);
    layout->addWidget(form_);
    layout->addStretch(1);
    return paneScroll(inner, tr("What the recipe does"));
}

void RunsView::connectParts() {
    connect(form_, &SettingsForm::changed, this, [this](const QString& key, const Value& value) {
        const auto r = document_.project().recipes.find(recipe_);
        if (!r) return;
        Recipe changed = *r;
        if (std::holds_alternative<std::monostate>(value))
            changed.settings.remove(key.toStdString());
        else
            changed.settings.set(key.toStdString(), value);
        document_.apply(edits::keepRecipe(changed));
    });
    connect(choice_, &QComboBox::activated, this,
            [this](int i) { showRecipe(RecipeId::fromText(choice_->itemData(i).toString().toStdString())); });
    connect(gallery_, &RunGallery::chosen, this, [this](DatasetId id) { document_.selectDataset(id); });
    connect(gallery_, &RunGallery::opened, this, &RunsView::open);
    connect(trend_, &TrendPlot::opened, this, [this](const QString& name) {
        for (const DatasetId id : order_)
            if (const auto d = document_.project().datasets.find(id); d && text(d->name) == name) {
                gallery_->setCurrent(id);
                document_.selectDataset(id);
            }
    });
    connect(&watch_, &FolderWatch::arrived, this,
            [this](const std::vector<std::string>& files) { runOn(files); });
    connect(&watch_, &FolderWatch::changed, this, &RunsView::fillWatch);
    connect(&run_, &RunJob::progressed, this, &RunsView::fillStatus);
    connect(&run_, &RunJob::ended, this, [this] {
        fillStatus();
        compute(order_);
    });
    connect(&document_, &Document::changed, this, &RunsView::refresh);
}

QWidget* RunsView::buildHead() {
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    choice_->setObjectName("recipe");
    choice_->setAccessibleName(tr("Recipe"));
    choice_->setMinimumWidth(220);
    row->addWidget(choice_);
    row->addStretch(1);
    row->addWidget(button(this, tr("Run on files…"), "primary",
                          tr("Choose files, or drop them or a folder here"), [this] { askForFiles(); }));
    row->addWidget(button(this, tr("Run on selection"), "", tr("The selected datasets go the recipe’s way"),
                          [this] { runOnSelection(); }));
    QPushButton* more =
        button(this, "⋯", "", tr("Export, keep in the library, take another recipe, remove"), [] {});
    more->setObjectName("recipeMore");
    more->setAccessibleName(tr("Recipe menu"));
    connect(more, &QPushButton::clicked, this, [this] { offerMore(); });
    row->addWidget(more);
    return head;
}

QWidget* RunsView::buildEmpty() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->addStretch(1);
    QLabel* words =
        muted(tr("A recipe holds the way of a dataset – reading, steps, analyses – and goes it again "
                 "with other files.\nMake one: in Analyse, “Keep as a recipe”. Or begin with one of "
                 "these:"));
    words->setAlignment(Qt::AlignCenter);
    words->setWordWrap(true);
    column->addWidget(words);
    for (const ShippedRecipe& r : shippedRecipes()) {
        QPushButton* one = button(this, text(r.recipe.name), "link", text(r.recipe.purpose),
                                  [this, &r] { takeRecipe(r.recipe); });
        column->addWidget(one, 0, Qt::AlignCenter);
    }
    column->addStretch(2);
    return page;
}

QWidget* RunsView::buildTrend() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 4, 0, 0);
    auto* row = new QHBoxLayout;
    quantity_->setObjectName("trendQuantity");
    quantity_->setAccessibleName(tr("Quantity of the trend"));
    attribute_->setObjectName("trendAttribute");
    attribute_->setAccessibleName(tr("Attribute of the trend"));
    row->addWidget(caption(tr("Trend of")));
    row->addWidget(quantity_);
    row->addWidget(muted(tr("over")));
    row->addWidget(attribute_);
    row->addStretch(1);
    row->addWidget(button(this, tr("Keep as a dataset"), "",
                          tr("The points of the trend become a table and a dataset"), [this] {
                              if (trend_->table().rowCount() > 0 &&
                                  document_.apply(keepTrend(trend_->table())))
                                  document_.say(tr("The trend is a dataset now."));
                          }));
    column->addLayout(row);
    trend_->setFixedHeight(190);
    column->addWidget(trend_);
    for (QComboBox* box : {quantity_, attribute_})
        connect(box, &QComboBox::activated, this, [this, box] {
            box->setProperty("chosen", box->currentText());
            fillTrend();
        });
    return page;
}

bool RunsView::isCurrent() const {
    return !run_.isRunning() && !job_.isBusy() && trend_->isCurrent();
}

// What runs goes on with the project of its moment; what is computed is remembered, so that stopping costs
// nothing.
void RunsView::refresh() {
    const Project& p = document_.project();
    if (!p.recipes.find(recipe_)) recipe_ = p.recipes.empty() ? RecipeId{} : p.recipes[0].id;
    order_.clear();
    for (const auto& d : p.datasets)
        if (recipe_ && d->recipe == recipe_) order_.push_back(d->id);
    if (!isVisible()) { // brought up to date when it shows; the one that is being mended at once
        if (std::ranges::find(order_, document_.dataset()) != order_.end() && !document_.isDragging())
            compute({document_.dataset()});
        return;
    }
    const bool any = !p.recipes.empty();
    empty_->setVisible(!any);
    for (QWidget* w : {head_, static_cast<QWidget*>(gallery_)}) w->setVisible(any);
    choice_->clear();
    for (const auto& r : p.recipes) choice_->addItem(text(r->name), text(r->id.text()));
    choice_->setCurrentIndex(choice_->findData(text(recipe_.text())));
    std::erase_if(curves_, [&](const auto& c) { return !p.datasets.find(c.first); });
    std::erase_if(pictures_, [&](const auto& c) { return !p.datasets.find(c.first); });
    fillSide();
    fillTiles();
    fillStatus();
    fillWatch();
    if (!document_.isDragging()) compute(order_);
}

void RunsView::compute(const std::vector<DatasetId>& some) {
    if (some.empty()) return;
    job_.stopRunning();
    job_.request([this, project = document_.project(), order = some,
                  evaluator = document_.session().sharedEvaluator()](
                     const Cancellation& stop) -> std::function<void()> {
        auto computed = std::make_shared<Computed>();
        QElapsedTimer since;
        since.start();
        std::mutex handing;
        parallelRanges(order.size(), 1, [&](std::size_t from, std::size_t to) {
            for (std::size_t i = from; i < to && !stop.stop_requested(); ++i) {
                RunCurve curve = runCurve(project, order[i], *evaluator);
                auto picture = runPicture(project, order[i], *evaluator);
                const std::lock_guard lock(computed->mutex);
                computed->curves[order[i]] = std::move(curve);
                computed->pictures[order[i]] = std::move(picture);
                const std::lock_guard hand(handing);
                if (since.elapsed() < kShowAfter) continue;
                since.restart();
                QMetaObject::invokeMethod(
                    this, [this, computed] { takeComputed(computed); }, Qt::QueuedConnection);
            }
        });
        return [this, computed] { takeComputed(computed); };
    });
}

void RunsView::takeComputed(const std::shared_ptr<Computed>& computed) {
    {
        const std::lock_guard lock(computed->mutex);
        for (auto& [id, curve] : computed->curves) curves_[id] = std::move(curve);
        for (auto& [id, picture] : computed->pictures) pictures_[id] = std::move(picture);
        computed->curves.clear();
        computed->pictures.clear();
    }
    fillTiles();
    fillStatus();
    Q_EMIT doubtsChanged();
}

// In the order of the run.
std::vector<const RunCurve*> RunsView::computedCurves() const {
    std::vector<const RunCurve*> out;
    for (const DatasetId id : order_)
        if (const auto at = curves_.find(id); at != curves_.end()) out.push_back(&at->second);
    return out;
}

// The doubtful first, each part in the order of the run.
void RunsView::fillTiles() {
    const std::vector<const RunCurve*> curves = computedCurves();
    const auto family = familyDoubts(curves);
    auto doubts = family.begin(); // of each computed curve in turn
    std::vector<RunTile> tiles;
    for (const DatasetId id : order_) {
        const auto at = curves_.find(id);
        QStringList reasons;
        if (at != curves_.end()) {
            for (const std::string& doubt : at->second.doubts) reasons << text(doubt);
            for (const std::string& doubt : *doubts++) reasons << text(doubt);
        }
        const auto d = document_.project().datasets.find(id);
        if (!d) continue;
        RunTile tile{.dataset = id, .name = text(d->name), .reason = reasons.join("\n")};
        tile.looked = looked_.contains(id);
        tile.computed = at != curves_.end();
        if (const auto picture = pictures_.find(id); picture != pictures_.end())
            tile.picture = picture->second;
        tiles.push_back(std::move(tile));
    }
    std::ranges::stable_sort(tiles, {}, [](const RunTile& t) { return !t.isDoubtful(); });
    gallery_->setTiles(std::move(tiles));
    gallery_->setCurrent(document_.dataset(), false); // what is in doubt stays in view
    fillTrend();
}

void RunsView::fillTrend() {
    const std::vector<const RunCurve*> curves = computedCurves();
    const auto quantities = trendQuantities(curves);
    const auto attributes = trendAttributes(curves);
    // What nobody has chosen is the first: an attribute, once there is one.
    const auto refill = [](QComboBox* box, const QStringList& names) {
        const QString before = box->property("chosen").toString();
        QStringList now;
        for (int i = 0; i < box->count(); ++i) now << box->itemText(i);
        if (now == names) return;
        box->clear();
        box->addItems(names);
        box->setCurrentIndex(std::max(0, box->findText(before)));
    };
    QStringList names, by;
    for (const TrendQuantity& q : quantities) names << text(q.name());
    for (const std::string& a : attributes) by << (a.empty() ? tr("order of the files") : text(a));
    refill(quantity_, names);
    refill(attribute_, by);
    below_->setVisible(!quantities.empty());
    const auto q = static_cast<std::size_t>(std::max(0, quantity_->currentIndex()));
    const auto a = static_cast<std::size_t>(std::max(0, attribute_->currentIndex()));
    trend_->show(q < quantities.size() && a < attributes.size()
                     ? trendTable(curves, quantities[q], attributes[a])
                     : Table());
}

void RunsView::fillStatus() {
    const bool running = run_.isRunning();
    bar_->setVisible(running);
    stop_->setVisible(running);
    bar_->setRange(0, static_cast<int>(run_.all()));
    bar_->setValue(static_cast<int>(run_.done()));
    std::size_t computed = 0, doubtful = 0;
    for (const RunTile& t : gallery_->tiles()) {
        computed += t.computed;
        doubtful += t.isDoubtful();
    }
    QString words;
    if (order_.empty() && recipe_)
        words = tr("Nothing has been run yet: choose files, or drop them here.");
    else if (!order_.empty()) {
        words = text(counted(std::ssize(order_), "curve"));
        if (computed < order_.size()) words += tr(", %1 computed").arg(computed);
        words += doubtful > 0 ? tr(", %1 doubtful").arg(doubtful) : tr(", none doubtful");
    }
    if (running) words = tr("Reading %1 of %2 files.  ").arg(run_.done()).arg(run_.all()) + words;
    for (const std::string& remark : familyRemarks(computedCurves())) words += "\n" + text(remark);
    status_->setText(words);
    QStringList why;
    for (const RunFailure& f : run_.failures()) {
        if (why.size() == 3) {
            why << tr("… and %1 more.").arg(run_.failures().size() - 3);
            break;
        }
        why << f.why;
    }
    say(failures_, why.isEmpty() ? QString() : tr("Not read: %1").arg(why.join("\n")));
}

DatasetId RunsView::nextDoubtful(DatasetId after) const {
    std::vector<DatasetId> doubtful;
    for (const RunTile& t : gallery_->tiles())
        if (t.isDoubtful() && document_.project().datasets.find(t.dataset)) doubtful.push_back(t.dataset);
    if (doubtful.empty()) return {};
    const auto at = std::ranges::find(doubtful, after);
    if (at == doubtful.end()) return doubtful.front();
    if (doubtful.size() == 1) return {};
    return at + 1 == doubtful.end() ? doubtful.front() : *(at + 1);
}

QString RunsView::reasonOf(DatasetId dataset) const {
    for (const RunTile& t : gallery_->tiles())
        if (t.dataset == dataset && t.isDoubtful()) return t.reason;
    return {};
}

void RunsView::markLookedAt(DatasetId dataset) {
    looked_.insert(dataset);
    fillTiles();
    fillStatus();
    Q_EMIT doubtsChanged();
}

void RunsView::open(DatasetId dataset) {
    document_.selectDataset(dataset);
    const auto all = analysesOf(document_.project(), dataset);
    if (!all.empty()) document_.openAnalysis(all.front()->id);
    Q_EMIT openWanted();
}

} // namespace jointer::app
