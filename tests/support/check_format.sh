#!/usr/bin/env bash
# check_format.sh SOURCE: is every C++ file as .clang-format has it?
set -euo pipefail
cd "$1"
find src tests bench -name '*.cpp' -o -name '*.h' | sort | xargs clang-format --dry-run --Werror
