#include "core/raw/gain_map.h"
#include "core/raw/samples.h"
#include "core/raw/tiff_directory.h"
#include "core/sim/random.h"
#include "support/registry.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <fcntl.h>
#include <sys/mman.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace wavechroma;

/// Memory for samples, gains over a frame, and directories of tags.
class SamplesTest : public QObject
{
    Q_OBJECT
private slots:
    void copiesShareWhatIsZeroAtFirst();
    void anotherProcessHasTheSame();
    void filesThatCouldShrinkAreRefused();
    void gainsLieBetweenTheirPoints();
    void directoriesAreReadInEitherOrder();
    void directoriesThatAreCutShortAreNone();
    void directoriesOfAnyBytesEndInAnAnswer();
};

void SamplesTest::copiesShareWhatIsZeroAtFirst()
{
    const Samples none;
    QVERIFY(none.empty() && none.size() == 0 && none.begin() == none.end() && none.sharedFile() < 0);
    QVERIFY(Samples(0).empty());
    std::optional<Samples> one(Samples(100'000));
    QCOMPARE(one->size(), size_t(100'000));
    QVERIFY(std::all_of(one->begin(), one->end(), [](uint16_t code) { return code == 0; }));
    const auto copy = *one;
    (*one)[99'999] = 4711;
    QCOMPARE(copy[99'999], uint16_t(4711));
    one.reset();
    QCOMPARE(copy[99'999], uint16_t(4711)); // it stays as long as one of them does
    QVERIFY_THROWS_EXCEPTION(std::bad_alloc, Samples(size_t(1) << 60));
}

/// What one process writes, the other reads, and it stays when the first is gone. In a process of its own,
/// for it makes all new samples shared.
void SamplesTest::anotherProcessHasTheSame()
{
    int ends[2];
    QCOMPARE(pipe(ends), 0);
    const pid_t child = fork();
    if (child == 0) {
        Samples::shareNew();
        const Samples made(5000);
        for (size_t i = 0; i < made.size(); ++i)
            made[i] = uint16_t(i * 13);
        const auto same = Samples::of(made.sharedFile(), 5000);
        bool isRight = made.sharedFile() >= 0 && same && same->size() == 5000 && same->data() != made.data();
        for (size_t i = 0; isRight && i < 5000; ++i)
            isRight = (*same)[i] == uint16_t(i * 13);
        made[17] = 1; // written after, it is seen as well
        isRight = isRight && (*same)[17] == 1 && !Samples::of(made.sharedFile(), 5001);
        const char answer = isRight ? 'y' : 'n';
        (void)!write(ends[1], &answer, 1);
        _exit(0);
    }
    char answer = 0;
    QCOMPARE(read(ends[0], &answer, 1), ssize_t(1));
    QCOMPARE(waitpid(child, nullptr, 0), child);
    QCOMPARE(answer, 'y');
    close(ends[0]);
    close(ends[1]);
}

void SamplesTest::filesThatCouldShrinkAreRefused()
{
    const int open = memfd_create("test", MFD_ALLOW_SEALING);
    QCOMPARE(ftruncate(open, 200), 0);
    QVERIFY(!Samples::of(open, 100)); // not sealed: it could be cut under who reads it
    QCOMPARE(fcntl(open, F_ADD_SEALS, F_SEAL_SHRINK), 0);
    QVERIFY(Samples::of(open, 100));
    QVERIFY(!Samples::of(open, 101));
    QVERIFY(!Samples::of(open, 0));
    QVERIFY(!Samples::of(-1, 100));
    close(open);
}

void SamplesTest::gainsLieBetweenTheirPoints()
{
    GainMap map;
    map.width = 400;
    map.height = 200;
    map.columns = 5;
    map.rows = 3;
    for (auto &gain : map.gain)
        for (int y = 0; y < map.rows; ++y)
            for (int x = 0; x < map.columns; ++x)
                gain.push_back(1 + 0.1F * float(x) + 0.3F * float(y)); // a plane: exact between its points
    for (const double x : {0.0, 33.0, 100.0, 399.9, 400.0})
        for (const double y : {0.0, 50.0, 120.5, 200.0})
            QVERIFY(std::abs(double(map.at(1, x, y)) - (1 + 0.1 * x / 100 + 0.3 * y / 100)) < 1e-5);
    QCOMPARE(map.at(2, -50, 900), map.at(2, 0, 200)); // held at the edges
}

namespace {

/// A directory of so many tags, in either order, with some bytes before and after.
std::vector<uint8_t> directoryOf(const std::vector<TiffDirectory::Entry> &entries, bool isHighestFirst)
{
    const ByteOrder order(isHighestFirst);
    std::vector<uint8_t> out{uint8_t(isHighestFirst ? 'M' : 'I'), uint8_t(isHighestFirst ? 'M' : 'I')};
    order.put(out, 42, 2);
    order.put(out, 12, 4);
    out.resize(12);
    order.put(out, uint32_t(entries.size()), 2);
    for (const auto &entry : entries) {
        order.put(out, entry.id, 2);
        order.put(out, entry.type, 2);
        order.put(out, entry.count, 4);
        order.put(out, entry.id * 7U, 4);
    }
    order.put(out, 0, 4);
    return out;
}

} // namespace

void SamplesTest::directoriesAreReadInEitherOrder()
{
    sim::Random random(51);
    for (int round = 0; round < 100; ++round) {
        std::vector<TiffDirectory::Entry> entries;
        for (int i = 0, many = 1 + random.below(30); i < many; ++i)
            entries.push_back(
                {uint16_t(254 + 3 * i), uint16_t(1 + random.below(12)), uint32_t(random.below(1 << 30))});
        const bool isHighestFirst = round % 2 == 1;
        const auto file = directoryOf(entries, isHighestFirst);
        const auto read = tiffDirectoryOf(file);
        QVERIFY(read && read->magic == 42 && read->entries.size() == entries.size());
        QCOMPARE(read->order.isHighestFirst(), isHighestFirst);
        for (const auto &entry : entries) {
            const auto *found = read->find(entry.id);
            QVERIFY(found && found->type == entry.type && found->count == entry.count);
            QCOMPARE(read->order.get(file, found->at + 8, 4), uint32_t(entry.id * 7));
        }
        QVERIFY(!read->find(253) && !read->find(255));
        QCOMPARE(read->end, file.size() - 4);
    }
}

void SamplesTest::directoriesThatAreCutShortAreNone()
{
    const auto file = directoryOf({{256, 3, 1}, {257, 3, 1}, {258, 3, 1}}, false);
    QVERIFY(tiffDirectoryOf(file));
    for (size_t length = 0; length < file.size() - 4; ++length)
        QVERIFY2(!tiffDirectoryOf(std::span(file).first(length)), qPrintable(QString::number(length)));
    auto other = file;
    other[0] = 'X';
    QVERIFY(!tiffDirectoryOf(other));
    QVERIFY(!tiffDirectoryAt(file, ByteOrder(), file.size()) &&
            !tiffDirectoryAt(file, ByteOrder(), SIZE_MAX - 1));
}

void SamplesTest::directoriesOfAnyBytesEndInAnAnswer()
{
    sim::Random random(52);
    int read = 0;
    for (int round = 0; round < 5000; ++round) {
        auto file = directoryOf({{256, 3, 1}, {257, 3, 1}}, round % 2 == 1);
        for (int i = 0; i < 3; ++i)
            file[size_t(random.below(int(file.size())))] = uint8_t(random.below(256));
        if (const auto directory = tiffDirectoryOf(file)) {
            ++read;
            for (const auto &entry : directory->entries)
                QVERIFY(entry.at + 12 <= file.size());
        }
    }
    QVERIFY(read > 100);
}

static const wavechroma::testing::Registered<SamplesTest> registeredSamplesTest("samples_test");
#include "samples_test.moc"
