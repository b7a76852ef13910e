#!/usr/bin/env bash
# Fuzzes one parser for some seconds: run.sh frame|messages|documents|tables|profiles SECONDS BUILD-FOLDER [SEED]
# Starts from small files of the demo day, documents made of them, and tests/data/broken. What it finds is kept
# in BUILD-FOLDER/fuzz/NAME and begun with next time; an input that ends the program is written there as well.
set -euo pipefail
target=$1 seconds=$2 build=$3 seed=${4:-0} # 0: another one each time
folder=$build/fuzz/$target
seeds=$folder/seeds
mkdir -p "$folder/found" "$seeds"
cd "$folder"
wc() { "$WAVECHROMA_CLI" "$@" >/dev/null; }

if [ ! -e seeds/done ]; then
    cp "$WAVECHROMA_SOURCE_DIR"/tests/data/broken/* seeds/
    good=$WAVECHROMA_DEMO_DAY/frames/HR_0414.dng
    case $target in
    frame)
        cp "$good" seeds/
        wc read "$good" -o reading.json
        wc fit reading.json --colour matrix -o matrix.json
        for format in jpeg png16 tiff16; do
            wc render "$good" --calibration matrix.json --format $format --long-side 64 -o seeds
        done
        ;;
    messages)
        rm seeds/* # no files: what readers say of them
        wc read "$good" -o reading.json
        wc fit reading.json --colour matrix -o matrix.json
        wc render "$good" --calibration matrix.json --format jpeg --long-side 64 -o .
        "$build/bin/wavechroma-fuzz-messages" --seeds "$good" ./*.jpg "$WAVECHROMA_SOURCE_DIR"/tests/data/broken/*.jpg seeds
        ;;
    documents | profiles)
        wc read "$good" -o seeds/reading.json
        wc balance seeds/reading.json -o seeds/balance.json
        wc fit seeds/reading.json --colour field -o seeds/field.json
        wc fit seeds/reading.json --colour matrix -o seeds/matrix.json
        wc prove seeds/matrix.json seeds/reading.json -o seeds/proof.json || [ $? = 3 ]
        wc export seeds/matrix.json --dcp seeds/matrix.dcp --icc seeds/matrix.icc
        ;;
    tables)
        wc read "$good" -o reading.json
        wc fit reading.json --colour matrix -o matrix.json
        wc export matrix.json --cgats seeds/matrix.txt --csv seeds/matrix.csv
        printf 'LUT_3D_SIZE 2\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n0 0 1\n1 0 1\n0 1 1\n1 1 1\n' >seeds/two.cube
        cp "$WAVECHROMA_SOURCE_DIR"/data/charts/*.csv seeds/
        ;;
    esac
    touch seeds/done
fi
exec "$build/bin/wavechroma-fuzz-$target" -max_total_time="$seconds" -timeout=10 -rss_limit_mb=3000 -malloc_limit_mb=1000 \
    -max_len=400000 -print_final_stats=1 -verbosity=0 -seed="$seed" found seeds
