#pragma once
#include "app/view/day/day_sheet.h"

namespace wavechroma::app {

/// Gives each day sheet its accessible tree: a list whose items are what stands on the sheet, in order, each
/// with its sentence, its place, whether it is chosen, and "press" (opens it). Call it before a sheet is
/// read; again does nothing.
void readDaySheetsAloud();

} // namespace wavechroma::app
