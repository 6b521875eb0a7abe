#pragma once

#include "app/charts/likeness_map.h"
#include "app/jobs/latest_job.h"
#include "app/look/number_field.h"
#include "app/session/session.h"
#include "app/look/tick_box.h"

#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>

namespace ripple::app {

/// The likeness map with its best windows: pick one by a click on the map or in the list; ask for a length.
class LikenessPage : public QWidget {
    Q_OBJECT
public:
    explicit LikenessPage(Session& session, QWidget* parent = nullptr);
    LikenessMap* map() const { return map_; }

private:
    void refresh();
    void refreshList();
    void search();
    void choose(const inspect::LoopWindow& window);
    void compareEnds();
    /// The clip of the source that the playhead is in; none without a survey of it.
    std::optional<std::size_t> clip() const;
    std::optional<inspect::LoopWindow> chosen() const;

    Session& session_;
    LikenessMap* map_;
    QLabel* words_;
    NumberField* length_;
    TickBox* compare_;
    QVBoxLayout* list_;
    std::vector<inspect::MeasuredWindow> windows_;
    std::shared_ptr<const inspect::Likeness> shown_;
    std::optional<std::size_t> shownClip_;
    LatestJob searchJob_;
};

} // namespace ripple::app
