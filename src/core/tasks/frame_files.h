#pragma once
#include "core/raw/open_frame.h"
#include "core/raw/overview.h"
#include "core/raw/reader_process.h"

/// Gives both front ends frame files: FrameReaders, which is the first thing in main(), openFrame() and
/// overviewOf().
