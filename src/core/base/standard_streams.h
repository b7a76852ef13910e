#pragma once

namespace wavechroma {

/// Opens /dev/null for each of standard input, output and error that the program was started without. Call
/// it first in main(): else the next file that is opened has its number, and what is printed goes into it.
/// What is printed to a stream that was closed is lost, and fails as a write to a full device would: its
/// number is open for reading only.
void holdStandardStreams();

} // namespace wavechroma
