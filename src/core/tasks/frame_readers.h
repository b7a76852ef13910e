#pragma once
#include "core/raw/reader_process.h"

/// For both front ends: FrameReaders, the first thing in main().
