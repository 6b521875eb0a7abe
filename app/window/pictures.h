#pragma once

#include <QString>

namespace ripple::app {

class MainWindow;

/// Waits until nothing is being read, baked or measured. False after `seconds`.
bool waitUntilIdle(MainWindow& window, double seconds = 60.0);
/// The same, and until the cost ladder is whole, if it is being made.
bool waitForLadder(MainWindow& window, double seconds = 60.0);

/// One picture of the window as it stands.
bool takePicture(MainWindow& window, const QString& file);

/// All of docs/screenshots, from the demo sources in `demo`. The number of pictures that could not be made.
int takeAllPictures(MainWindow& window, const QString& folder, const QString& demo);

} // namespace ripple::app
