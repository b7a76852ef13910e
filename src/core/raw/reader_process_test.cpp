#include "core/formats/dng_frame.h"
#include "core/formats/picture_file.h"
#include "core/raw/embedded_picture.h"
#include "core/raw/frame_message.h"
#include "core/raw/library_picture.h"
#include "core/raw/open_frame.h"
#include "core/raw/reader_calls.h"
#include "core/raw/reader_process.h"
#include "core/sim/expose.h"
#include "core/sim/random.h"
#include "core/sim/studio.h"
#include "support/preview.h"
#include "support/registry.h"

#include <QDir>
#include <QDirIterator>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <chrono>
#include <csignal>
#include <dlfcn.h>
#include <fcntl.h>
#include <fstream>
#include <limits>
#include <png.h>
#include <poll.h>
#include <sched.h>
#include <set>
#include <sys/mman.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

using namespace wavechroma;

/// Frames decoded in processes of their own are the same frames, and what happens to such a process is an
/// answer.
class ReaderProcessTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void framesAreTheSame_data();
    void framesAreTheSame();
    void refusalsAreTheSame();
    void itCanDoNothingElse();
    void oneThatDiesIsAnAnswer();
    void oneDeathIsNotTheFilesFault();
    void oneThatDiesWhileItWaitsIsNotMissed();
    void memoryIsLimited();
    void timeIsLimited();
    void manyAtOnce();
    void memoryIsUsedAgain();
    void nothingIsLeftBehind();
    void whatComesBackIsNotBelieved();
    void whatMustNotGoDoesNot();
    void oneThatWaitsForEverIsEnded();
    void oneThatForgesItsAnswerIsRefused_data();
    void oneThatForgesItsAnswerIsRefused();
    void eachFileHasItsOwnReader();
    void withoutReadersNothingIsDecodedHere();
    void allEndWithTheProgram();
    void aFilesOwnPictureIsRead();
    void aFilesOwnPictureMayBeBroken();

private:
    std::filesystem::path file(const char *name) const { return m_folder.filePath(name).toStdString(); }
    QTemporaryDir m_folder;
};

namespace {

// What a taken-over library does, in the reader alone: it is decided before its process is forked.
enum class Hostility { None, TryAll, Wait, Forge };
Hostility hostility = Hostility::None;
raw::ReaderAnswer forged;
const pid_t ourselves = getpid();

int ownSocket()
{
    struct stat info
    {
    };
    for (int file = 3; file < 16; ++file)
        if (syscall(SYS_fstat, file, &info) == 0 && S_ISSOCK(info.st_mode))
            return file;
    return -1;
}

/// Names of what went and must not.
std::string tried()
{
    std::string went;
    const auto attempt = [&](const char *name, bool isDone) {
        if (isDone)
            went += std::string(name) + " ";
    };
    const int own = ownSocket();
    attempt("no socket at all", own < 0);
    attempt("F_SETOWN", fcntl(own, F_SETOWN, ourselves) == 0);
    attempt("F_SETSIG", fcntl(own, F_SETSIG, SIGKILL) == 0);
    attempt("O_ASYNC", fcntl(own, F_SETFL, O_ASYNC) == 0);
    attempt("F_SETLEASE", fcntl(own + 1, F_SETLEASE, F_RDLCK) == 0);
    attempt("kill", kill(ourselves, SIGCONT) == 0);
    attempt("tgkill", syscall(SYS_tgkill, ourselves, ourselves, SIGCONT) == 0);
    attempt("open", ::open("/etc/passwd", O_RDONLY) >= 0);
    struct stat info
    {
    };
    attempt("stat", ::stat("/etc/shadow", &info) == 0);
    attempt("newfstatat", syscall(SYS_newfstatat, AT_FDCWD, "/etc/shadow", &info, AT_EMPTY_PATH) == 0);
    attempt("socket", ::socket(AF_INET, SOCK_STREAM, 0) >= 0);
    attempt("fork", syscall(SYS_clone, SIGCHLD, nullptr, nullptr, nullptr, nullptr) >= 0);
    attempt("exec", execl("/bin/true", "true", nullptr) == 0);
    const rlimit none{RLIM_INFINITY, RLIM_INFINITY};
    attempt("setrlimit", setrlimit(RLIMIT_AS, &none) == 0);
    attempt("prlimit", prlimit(0, RLIMIT_CPU, &none, nullptr) == 0);
    attempt("memfd", memfd_create("more", 0) >= 0);
    attempt("affinity", syscall(SYS_sched_setaffinity, ourselves, 8, &none) == 0);
    attempt("prctl", prctl(PR_SET_PDEATHSIG, 0) == 0);
    attempt("ptrace", syscall(SYS_ptrace, 16, ourselves, 0, 0) == 0);
    attempt("unshare", syscall(SYS_unshare, CLONE_NEWNS) == 0);
    for (int file = 4; file < 10; ++file) // what it may, as far as the limit goes
        attempt("length", ftruncate(file, off_t(64) << 30) == 0);
    for (int standard = 0; standard < 3; ++standard) // lead nowhere
        attempt("stream", syscall(SYS_fstat, standard, &info) == 0 && !S_ISCHR(info.st_mode));
    return went;
}

/// Where nothing went, by an answer of another kind than the test's others; else by its end.
[[noreturn]] void tell(const std::string &went)
{
    const raw::ReaderAnswer nothing{raw::ReaderAnswer::Kind::TooLong, 0, 0};
    if (went.empty())
        (void)raw::send(ownSocket(), {reinterpret_cast<const uint8_t *>(&nothing), sizeof nothing});
    _exit(1);
}

[[noreturn]] void forge()
{
    (void)raw::send(ownSocket(), {reinterpret_cast<const uint8_t *>(&forged), sizeof forged});
    for (;;) // and stays
        poll(nullptr, 0, -1);
}

struct Process
{
    int id = 0, parent = 0;
    std::string name;
};

/// All that run below this one.
std::vector<Process> below(int parent)
{
    std::vector<Process> out;
    for (const auto &entry : QDir("/proc").entryList(QDir::Dirs | QDir::NoDotAndDotDot)) {
        bool isNumber = false;
        const int id = entry.toInt(&isNumber);
        if (!isNumber)
            continue;
        std::ifstream stat("/proc/" + entry.toStdString() + "/stat");
        std::string text((std::istreambuf_iterator<char>(stat)), {});
        const auto open = text.find('('), close = text.rfind(')');
        if (open == text.npos || close == text.npos)
            continue;
        char state = 0;
        int from = 0;
        if (std::sscanf(text.c_str() + close + 1, " %c %d", &state, &from) == 2 && from == parent &&
            state != 'Z') {
            out.push_back({id, from, text.substr(open + 1, close - open - 1)});
            const auto more = below(id);
            out.insert(out.end(), more.begin(), more.end());
        }
    }
    return out;
}

std::vector<int> readers()
{
    std::vector<int> out;
    for (const auto &process : below(getpid()))
        if (process.name == "frame-reader")
            out.push_back(process.id);
    return out;
}

/// A picture of smooth colours, in a form of ours.
void writePicture(const std::filesystem::path &file, PictureFormat format, int width = 200, int height = 120)
{
    PictureFacts facts;
    facts.format = format;
    facts.width = width;
    facts.height = height;
    facts.space = *rgbSpaceFromId("display-p3");
    facts.camera.model = "Tarn 2";
    facts.camera.capturedAt = "2026-10-14T09:20:08";
    auto picture = PictureFile::begin(file, facts, true);
    QVERIFY(bool(picture));
    std::vector<uint16_t> codes;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            for (const int code : {x * 65535 / width, y * 65535 / height, (x * y * 97) % 65536})
                codes.push_back(uint16_t(code));
    QVERIFY(bool((*picture)->add(codes.data(), height)) && bool((*picture)->finish()));
}

void writeDng(const std::filesystem::path &file, DngPacking packing)
{
    sim::Random random(11);
    constexpr int across = 320, down = 200;
    std::vector<uint16_t> samples;
    for (int i = 0; i < across * down; ++i)
        samples.push_back(uint16_t(500 + 14000 * random.unit()));
    DngFrame frame{across, down, samples, {0, 1, 1, 2}, 256, 15000, {}, {}, {0.5, 1, 0.6}, 6, "made up"};
    frame.colorMatrix = *inverse(xyzD50FromRgbMatrix(srgb()));
    frame.camera.model = "Osprey Mini";
    frame.camera.capturedAt = "2026-10-14T09:20:08";
    QVERIFY(bool(writeWhole({{file, dngFileOf(frame, packing)}})));
}

/// Grey all over: packs a thousand times.
void writePlainPng(const std::filesystem::path &file, uint32_t side)
{
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    image.width = image.height = side;
    image.format = PNG_FORMAT_GRAY;
    const std::vector<uint8_t> pixels(size_t(side) * side, 77);
    QVERIFY(png_image_write_to_file(&image, file.c_str(), 0, pixels.data(), 0, nullptr));
}

Result<RawFrame> here(const std::filesystem::path &file)
{
    const auto mapped = raw::MappedFile::open(file);
    if (!mapped)
        return mapped.error();
    return raw::openHere(*mapped, file.string(), "srgb");
}

bool isSame(const RawFrame &a, const RawFrame &b)
{
    if (a.camera != b.camera || !(a.fileColor == b.fileColor) || a.width != b.width || a.height != b.height ||
        a.orientation != b.orientation || a.rendered != b.rendered || a.assumedSpace != b.assumedSpace ||
        !a.mosaic != !b.mosaic)
        return false;
    for (int y = 0; y < a.height; ++y)
        for (int x = 0; x < a.width; ++x) {
            if (a.mosaic && a.mosaic->value(x, y) != b.mosaic->value(x, y))
                return false;
            for (size_t c = 0; !a.mosaic && c < 3; ++c)
                if (const size_t at = size_t(y) * size_t(a.width) + size_t(x);
                    a.picture->value(at, c) != b.picture->value(at, c))
                    return false;
        }
    return a.mosaic ? a.mosaic->channel == b.mosaic->channel && a.mosaic->white == b.mosaic->white
                    : a.picture->saturation == b.picture->saturation;
}

} // namespace

void ReaderProcessTest::initTestCase()
{
    writeDng(file("plain.dng"), DngPacking::None);
    writeDng(file("packed.dng"), DngPacking::LosslessJpeg);
    writePicture(file("picture.tif"), PictureFormat::Tiff16);
    writePicture(file("picture.png"), PictureFormat::Png16);
    writePicture(file("picture.jpg"), PictureFormat::Jpeg);
    writePlainPng(file("grey.png"), 300);
}

void ReaderProcessTest::framesAreTheSame_data()
{
    QTest::addColumn<QString>("name");
    for (const char *name :
         {"plain.dng", "packed.dng", "picture.tif", "picture.png", "picture.jpg", "grey.png"})
        QTest::newRow(name) << name;
}

void ReaderProcessTest::framesAreTheSame()
{
    QFETCH(QString, name);
    const auto path = file(qPrintable(name));
    const auto own = here(path);
    QVERIFY2(bool(own), own ? "" : own.error().message.c_str());
    const FrameReaders running;
    for (int round = 0; round < 3; ++round) {
        const auto mapped = *raw::MappedFile::open(path);
        const auto other = raw::readElsewhere(raw::ReaderStep::Open, mapped, path.string(), "srgb");
        QVERIFY(other && *other);
        QVERIFY(isSame(*own, **other));
        QVERIFY(!below(getpid()).empty()); // by a process of its own
        const auto opened = openFrame(path);
        QVERIFY(opened && isSame(*own, *opened));
        QCOMPARE(opened->path, path.string());
    }
}

/// Each file that once broke something is refused in the same words, or read the same.
void ReaderProcessTest::refusalsAreTheSame()
{
    std::vector<std::filesystem::path> files{m_folder.filePath("nowhere.dng").toStdString(),
                                             m_folder.path().toStdString()};
    for (QDirIterator i(qEnvironmentVariable("WAVECHROMA_SOURCE_DIR") + "/tests/data/broken", QDir::Files);
         i.hasNext();)
        files.push_back(i.next().toStdString());
    QVERIFY(files.size() > 8);
    const FrameReaders running;
    for (const auto &path : files) {
        const auto own = here(path), other = openFrame(path);
        QCOMPARE(bool(other), bool(own));
        if (own)
            QVERIFY(isSame(*own, *other));
        else
            QCOMPARE(other.error().message, own.error().message);
    }
}

void ReaderProcessTest::itCanDoNothingElse()
{
#ifdef WAVECHROMA_SANITIZE
    QSKIP("a sanitizer's own work needs more calls than the filter allows");
#endif
    const FrameReaders running;
    for (int i = 0; i < 2; ++i) // from the second file on, the next one waits
        QVERIFY(bool(openFrame(file("packed.dng"))));
    QTRY_COMPARE(readers().size(), size_t(1));
    QFile status(QString("/proc/%1/status").arg(readers().front()));
    QVERIFY(status.open(QFile::ReadOnly));
    const auto said = status.readAll();
    QVERIFY2(said.contains("Seccomp:\t2"), said); // by a filter
    QVERIFY(said.contains("NoNewPrivs:\t1"));
    QVERIFY(QDir(QString("/proc/%1/fd").arg(readers().front()))
                .entryList(QDir::Files | QDir::System | QDir::NoDotAndDotDot)
                .size() <= 4); // the three of every process, and its socket
}

void ReaderProcessTest::oneThatDiesIsAnAnswer()
{
    writePlainPng(file("large.png"), 6000); // takes a while
    const FrameReaders running;
    int ended = 0;
    for (int round = 0; round < 8; ++round) {
        std::atomic<bool> isDone = false;
        std::thread killer([&] {                                  // some way into it
            for (int time = 10 + 10 * round; !isDone; time = 5) { // whoever tries again, too
                std::this_thread::sleep_for(std::chrono::milliseconds(time));
                for (const int id : isDone ? std::vector<int>() : readers())
                    kill(id, SIGKILL);
            }
        });
        const auto frame = openFrame(file("large.png"));
        isDone = true;
        killer.join();
        if (!frame) {
            ++ended;
            QVERIFY2(frame.error().message.find("large.png: could not be read") != std::string::npos,
                     frame.error().message.c_str());
            QCOMPARE(frame.error().fault, Fault::Unusable);
        }
        const auto next = openFrame(file("picture.tif")); // by another one
        QVERIFY2(bool(next), next ? "" : next.error().message.c_str());
    }
    QVERIFY(ended > 0);
}

void ReaderProcessTest::oneDeathIsNotTheFilesFault()
{
    writePlainPng(file("large.png"), 6000);
    for (int round = 0; round < 2; ++round) {
        const FrameReaders running; // whose reader is new
        std::atomic<bool> wasReading = false, isDone = false;
        std::thread killer([&] {
            while (readers().empty() && !isDone) // on a slow machine its start takes a while
                std::this_thread::sleep_for(std::chrono::milliseconds(1));
            std::this_thread::sleep_for(std::chrono::milliseconds(20 + 20 * round));
            const auto all = readers();
            wasReading = !isDone && all.size() == 1 && kill(all.front(), SIGKILL) == 0;
        });
        const auto frame = openFrame(file("large.png"));
        isDone = true;
        killer.join();
        QVERIFY2(bool(frame), frame ? "" : frame.error().message.c_str());
        QVERIFY(wasReading);
    }
}

void ReaderProcessTest::oneThatDiesWhileItWaitsIsNotMissed()
{
    const FrameReaders running;
    for (int round = 0; round < 5; ++round) {
        QVERIFY(bool(openFrame(file("packed.dng"))));
        for (const int id : readers())
            kill(id, SIGKILL);
    }
    QVERIFY(bool(openFrame(file("packed.dng"))));
}

void ReaderProcessTest::memoryIsLimited()
{
#ifdef WAVECHROMA_SANITIZE
    QSKIP("a sanitizer takes all addresses for itself");
#endif
    writePlainPng(file("wide.png"), 8000); // 128 MB of codes
    ReaderLimits few;
    few.bytes = size_t(64) << 20;
    few.bytesPerByte = 0;
    const FrameReaders running(few);
    const auto frame = openFrame(file("wide.png"));
    QVERIFY(!frame);
    QVERIFY2(frame.error().message.find("wide.png") != std::string::npos &&
                 frame.error().message.find("memory") != std::string::npos,
             frame.error().message.c_str());
    QVERIFY(bool(openFrame(file("picture.png"))));
}

void ReaderProcessTest::timeIsLimited()
{
    writePlainPng(file("long.png"), 16000); // some seconds
    ReaderLimits few;
    few.seconds = few.secondsPerMegabyte = 0;
    const FrameReaders running(few);
    const auto frame = openFrame(file("long.png"));
    QVERIFY(!frame);
    QVERIFY2(frame.error().message.find("took longer") != std::string::npos, frame.error().message.c_str());
    QVERIFY(bool(openFrame(file("picture.png"))));
}

void ReaderProcessTest::manyAtOnce()
{
    const auto own = *here(file("packed.dng"));
    const FrameReaders running;
    std::atomic<int> same = 0;
    std::vector<std::thread> threads;
    for (int i = 0; i < 6; ++i)
        threads.emplace_back([&] {
            for (int round = 0; round < 10; ++round)
                if (const auto frame = openFrame(file("packed.dng")); frame && isSame(*frame, own))
                    ++same;
        });
    for (auto &thread : threads)
        thread.join();
    QCOMPARE(same.load(), 60);
    QVERIFY(readers().size() <= 6);
}

/// Samples of a frame that went make room for the next one's, and never for those of one that is still there.
void ReaderProcessTest::memoryIsUsedAgain()
{
    writePicture(file("one.tif"), PictureFormat::Tiff16, 1200, 900); // 6 MB
    writePicture(file("two.png"), PictureFormat::Png16, 1100, 900);
    const auto one = *here(file("one.tif")), two = *here(file("two.png"));
    const FrameReaders running;
    std::optional<RawFrame> kept = *openFrame(file("one.tif"));
    for (int round = 0; round < 6; ++round) {
        const auto next = openFrame(file(round % 2 ? "one.tif" : "two.png"));
        QVERIFY(next && isSame(*next, round % 2 ? one : two));
        QVERIFY(isSame(*kept, one));
        if (round == 2)
            kept = *openFrame(file("one.tif"));
    }
    const auto opened = [] { return QDir("/proc/self/fd").entryList(QDir::System | QDir::Files).size(); };
    const auto before = opened();
    for (int round = 0; round < 20; ++round)
        QVERIFY(bool(openFrame(file("one.tif"))));
    QVERIFY(opened() <= before + 1); // none is forgotten
}

void ReaderProcessTest::nothingIsLeftBehind()
{
    {
        const FrameReaders running;
        QVERIFY(bool(openFrame(file("packed.dng"))));
        QVERIFY(!below(getpid()).empty()); // the one that makes them
    }
    QVERIFY(below(getpid()).empty());
    QVERIFY(bool(openFrame(file("packed.dng")))); // in this process
    QVERIFY(below(getpid()).empty());
}

/// Whatever bytes a reader sends, there is a frame whose samples all lie in its memory, or none.
void ReaderProcessTest::whatComesBackIsNotBelieved()
{
    sim::Random random(29);
    int taken = 0, refused = 0;
    for (const char *name : {"plain.dng", "packed.dng", "picture.jpg"}) {
        const auto mapped = *raw::MappedFile::open(file(name));
        const auto sound = raw::messageOf(raw::openHere(mapped, name, "srgb"), mapped->bytes());
        for (int round = 0; round < 4000; ++round) {
            auto message = sound;
            const size_t end = std::min<size_t>(message.facts.size(), 700); // tables come after
            for (int i = 0; i < 1 + round % 3; ++i)
                message.facts[size_t(random.unit() * double(end))] = uint8_t(random.unit() * 256);
            if (round % 50 == 0)
                message.samples = {};
            const auto frame = raw::frameOf(message, mapped);
            if (!frame || !*frame) {
                ++refused;
                continue;
            }
            ++taken;
            const auto &f = **frame;
            double sum = 0; // reads what is furthest out
            for (const int y : {0, f.height - 1})
                for (const int x : {0, f.width - 1})
                    sum += f.mosaic ? double(f.mosaic->value(x, y))
                                    : double(f.picture->value(size_t(y) * size_t(f.width) + size_t(x), 2));
            QVERIFY(!std::isnan(sum) || !f.mosaic);
        }
    }
    QVERIFY2(taken > 100 && refused > 100, qPrintable(QString("%1 %2").arg(taken).arg(refused)));
    const auto mapped = *raw::MappedFile::open(file("plain.dng"));
    // What no frame has, in its place; what files say of themselves goes before it is sent.
    auto frame = *raw::openHere(mapped, "plain.dng", "srgb");
    const double none = std::numeric_limits<double>::quiet_NaN();
    QVERIFY(!frame.fileColor.matrices.empty());
    frame.camera.iso = none;
    frame.fileColor.matrices[0].cameraFromXyz(1, 1) = none;
    QVERIFY(!raw::frameOf(raw::messageOf(frame, mapped->bytes()), mapped));
    const auto matrices = frame.fileColor.matrices.size();
    raw::keepFinite(frame);
    QCOMPARE(frame.camera.iso, 0.0);
    QCOMPARE(frame.fileColor.matrices.size(), matrices - 1);
    QVERIFY(raw::frameOf(raw::messageOf(frame, mapped->bytes()), mapped));
    const raw::FrameMessage deep{std::vector<uint8_t>(1 << 20, 0x81), {}}, // arrays in arrays
        endless{std::vector<uint8_t>(8 << 20, 0x00), {}}, empty{{}, {}};
    for (const auto *message : {&deep, &endless, &empty})
        QVERIFY(!raw::frameOf(*message, mapped));
}

/// A reader that was taken over tries what would lead out of it, and says whether anything went.
void ReaderProcessTest::whatMustNotGoDoesNot()
{
#ifdef WAVECHROMA_SANITIZE
    QSKIP("a sanitizer's own work needs more calls than the filter allows");
#endif
    hostility = Hostility::TryAll;
    std::string said;
    {
        const FrameReaders running;
        const auto frame = openFrame(file("picture.png"));
        QVERIFY(!frame);
        said = frame.error().message;
    }
    hostility = Hostility::None;
    QVERIFY2(said.find("took longer") != std::string::npos, said.c_str()); // see tell()
}

/// It uses no processor time, so that no limit of that ends it; a deadlock in a library would do the same.
void ReaderProcessTest::oneThatWaitsForEverIsEnded()
{
    hostility = Hostility::Wait;
    ReaderLimits limits;
    limits.waitingSeconds = 0.5;
    limits.waitingPerSecond = 0;
    const auto start = std::chrono::steady_clock::now();
    {
        const FrameReaders running(limits);
        const auto frame = openFrame(file("picture.png"));
        QVERIFY(!frame);
        QVERIFY2(frame.error().message.find("took longer") != std::string::npos,
                 frame.error().message.c_str());
        QVERIFY(bool(openFrame(file("picture.tif"))));
    }
    hostility = Hostility::None;
    QVERIFY(std::chrono::steady_clock::now() - start < std::chrono::seconds(20));
    QVERIFY(below(getpid()).empty());
}

void ReaderProcessTest::oneThatForgesItsAnswerIsRefused_data()
{
    QTest::addColumn<quint64>("facts");
    QTest::addColumn<quint64>("samples");
    QTest::newRow("facts of gigabytes") << quint64(9'500'000'000) << quint64(0);
    QTest::newRow("facts that are not there") << quint64(1000) << quint64(0);
    QTest::newRow("samples without end") << quint64(0) << ~quint64(0);
    QTest::newRow("nothing") << quint64(0) << quint64(0);
}

void ReaderProcessTest::oneThatForgesItsAnswerIsRefused()
{
    QFETCH(quint64, facts);
    QFETCH(quint64, samples);
    forged = {raw::ReaderAnswer::Kind::Frame, facts, samples};
    hostility = Hostility::Forge;
    {
        const FrameReaders running;
        const auto frame = openFrame(file("picture.png"));
        QVERIFY(!frame);
        QVERIFY2(frame.error().message.find("picture.png") != std::string::npos,
                 frame.error().message.c_str());
        QCOMPARE(frame.error().fault, Fault::Unusable);
    }
    hostility = Hostility::None;
}

void ReaderProcessTest::eachFileHasItsOwnReader()
{
    const FrameReaders running;
    std::set<int> seen;
    for (int i = 0; i < 2; ++i) // from the second file on, the next one waits
        QVERIFY(bool(openFrame(file("picture.png"))));
    for (int round = 0; round < 5; ++round) {
        std::vector<int> before;
        QTRY_VERIFY(!(before = readers()).empty());
        QVERIFY2(seen.insert(before.front()).second, "a reader that had a file waits for the next");
        QVERIFY(bool(openFrame(file("picture.png"))));
        const auto after = readers(); // it was ended before its answer was looked at
        QVERIFY(std::find(after.begin(), after.end(), before.front()) == after.end());
    }
}

void ReaderProcessTest::withoutReadersNothingIsDecodedHere()
{
    const FrameReaders running;
    QVERIFY(bool(openFrame(file("picture.png"))));
    for (const auto &process : below(getpid()))
        if (process.name == "frame-readers")
            QCOMPARE(::kill(process.id, SIGKILL), 0);
    QTRY_VERIFY(readers().empty()); // they end with it
    const auto frame = openFrame(file("picture.png"));
    QVERIFY(!frame);
    QVERIFY2(frame.error().message.find("Start the program again") != std::string::npos,
             frame.error().message.c_str());
}

void ReaderProcessTest::allEndWithTheProgram()
{
    int ends[2];
    QCOMPARE(::pipe(ends), 0);
    const pid_t program = ::fork();
    if (program == 0) {
        const FrameReaders running;
        const bool isRead = bool(openFrame(file("picture.png")));
        (void)!::write(ends[1], &isRead, 1);
        ::pause();
    }
    bool isRead = false;
    QCOMPARE(::read(ends[0], &isRead, 1), 1);
    QVERIFY(isRead);
    const auto all = below(program);
    QVERIFY(!all.empty());
    ::kill(program, SIGKILL);
    ::waitpid(program, nullptr, 0);
    const auto isGone = [](const Process &process) {
        std::ifstream stat("/proc/" + std::to_string(process.id) + "/stat");
        std::string text((std::istreambuf_iterator<char>(stat)), {});
        return text.empty() || text.find(") Z") != text.npos;
    };
    for (const auto &process : all)
        QTRY_VERIFY(isGone(process));
    ::close(ends[0]);
    ::close(ends[1]);
}

/// Here and by a reader.
void ReaderProcessTest::aFilesOwnPictureIsRead()
{
    writePicture(file("own.jpg"), PictureFormat::Jpeg, 160, 100);
    const auto jpeg = *readWhole(file("own.jpg")), raw = *readWhole(file("packed.dng"));
    QVERIFY(bool(writeWhole({{file("with-own.dng"), testing::withPreview(raw, jpeg, 160, 100)}})));
    const auto expected = *here(file("own.jpg"));
    for (const bool elsewhere : {false, true}) {
        std::optional<FrameReaders> running;
        if (elsewhere)
            running.emplace();
        const auto own = embeddedPicture(file("with-own.dng"));
        QVERIFY2(bool(own), own ? "" : own.error().message.c_str());
        QCOMPARE(own->width, 160);
        QCOMPARE(own->height, 100);
        for (size_t pixel = 0; pixel < 160 * 100; pixel += 37)
            for (size_t c = 0; c < 3; ++c)
                QCOMPARE(own->picture->value(pixel, c), expected.picture->value(pixel, c));
        QVERIFY(own->fileColor == expected.fileColor); // its own profile
        const auto frame = openFrame(file("with-own.dng")), plain = openFrame(file("packed.dng"));
        QVERIFY(frame && plain && frame->mosaic);
        QCOMPARE(frame->mosaic->value(17, 23), plain->mosaic->value(17, 23)); // the frame is what it was
        const auto none = embeddedPicture(file("packed.dng"));
        QVERIFY(!none);
        QVERIFY2(none.error().message.find("packed.dng: holds no embedded picture") != std::string::npos,
                 none.error().message.c_str());
    }
}

void ReaderProcessTest::aFilesOwnPictureMayBeBroken()
{
    writePicture(file("own.jpg"), PictureFormat::Jpeg, 160, 100);
    const auto jpeg = *readWhole(file("own.jpg")), raw = *readWhole(file("packed.dng"));
    sim::Random random(41);
    const FrameReaders running;
    int refused = 0;
    for (int round = 0; round < 120; ++round) {
        auto bytes = testing::withPreview(raw, jpeg, 160, 100);
        const size_t from = raw.size() + (round % 2 ? 0 : jpeg.size()), many = bytes.size() - from;
        for (int i = 0; i < 4; ++i)
            bytes[from + size_t(random.unit() * double(many))] = uint8_t(random.unit() * 256);
        QVERIFY(bool(writeWhole({{file("broken-own.dng"), bytes}})));
        const auto own = embeddedPicture(file("broken-own.dng"));
        refused += !own;
        if (!own)
            QVERIFY2(own.error().message.find("broken-own.dng") != std::string::npos,
                     own.error().message.c_str());
        else
            QVERIFY(own->picture->codes.size() >= size_t(own->width) * size_t(own->height));
    }
    QVERIFY(refused > 10);
    QVERIFY(bool(openFrame(file("packed.dng"))));
}

/// In place of the library's, which the decoder calls before it reads a byte.
extern "C" void png_set_read_fn(png_structrp png, png_voidp source, png_rw_ptr read)
{
    if (getpid() != ourselves && hostility == Hostility::TryAll)
        tell(tried());
    if (getpid() != ourselves && hostility == Hostility::Forge)
        forge();
    while (getpid() != ourselves && hostility == Hostility::Wait)
        poll(nullptr, 0, -1);
    using Real = void (*)(png_structrp, png_voidp, png_rw_ptr);
    static const auto real = reinterpret_cast<Real>(dlsym(RTLD_NEXT, "png_set_read_fn"));
    real(png, source, read);
}

static const wavechroma::testing::Registered<ReaderProcessTest>
    registeredReaderProcessTest("reader_process_test");
#include "reader_process_test.moc"
