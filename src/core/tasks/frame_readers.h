#pragma once
#include "core/raw/reader_process.h"

/// Gives both front ends FrameReaders, which is the first thing in main().
