#pragma once
#include "core/formats/inspect.h" // inspectFile(): any file's content as JSON text
