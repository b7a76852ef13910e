#include "core/base/csv_table.h"
#include "core/base/matrix3.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class Matrix3Test : public QObject
{
    Q_OBJECT
private slots:
    void productsFollowTheRowByColumnRule();
    void inversesUndo();
    void singularMatricesHaveNoInverse();
    void tablesAreReadWithTheirHeader();
    void faultsInTablesNameLineAndColumn_data();
    void faultsInTablesNameLineAndColumn();
    void quotedFieldsKeepTheirCommas();
};

void Matrix3Test::productsFollowTheRowByColumnRule()
{
    const Matrix3 a{{{{1, 2, 3}, {4, 5, 6}, {7, 8, 10}}}}, b{{{{2, 0, 1}, {0, 1, 0}, {1, 0, 3}}}};
    const Matrix3 ab{{{{5, 2, 10}, {14, 5, 22}, {24, 8, 37}}}}; // by hand
    QCOMPARE(a * b, ab);
    QCOMPARE((a * Vector3{1, 0, -1}), (Vector3{-2, -2, -3}));
    QCOMPARE(determinant(a), -3.0); // 1(50−48) − 2(40−42) + 3(32−35)
    QCOMPARE(transposed(transposed(a)), a);
    QCOMPARE(2 * identity(), diagonal({2, 2, 2}));
}

void Matrix3Test::inversesUndo()
{
    const Matrix3 a{{{{1, 2, 3}, {4, 5, 6}, {7, 8, 10}}}};
    const auto unity = a * *inverse(a);
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            QVERIFY(std::abs(unity(i, j) - (i == j)) < 1e-12);
}

void Matrix3Test::singularMatricesHaveNoInverse()
{
    QVERIFY(!inverse(Matrix3{{{{1, 2, 3}, {2, 4, 6}, {1, 0, 1}}}}));
    QVERIFY(!inverse(Matrix3{}));
    QVERIFY(inverse(1e-6 * identity())); // small is not singular
}

void Matrix3Test::tablesAreReadWithTheirHeader()
{
    const auto table = *parseNumberTable("# a note\nnm,value\n\n380,0.5\r\n385,1e-3\n", "test");
    QCOMPARE(table.header, (std::vector<std::string>{"nm", "value"}));
    QCOMPARE(table.rows.size(), size_t(2));
    QCOMPARE(table.rows[1], (std::vector<double>{385, 0.001}));
    QVERIFY(parseNumberTable("1,2\n3,4\n", "test")->header.empty());
}

void Matrix3Test::faultsInTablesNameLineAndColumn_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QString>("words");
    QTest::newRow("a word") << QByteArray("a,b\n1,2\n3,x\n") << "3";
    QTest::newRow("too few") << QByteArray("a,b\n1\n") << "2";
    QTest::newRow("too many") << QByteArray("a,b\n1,2,3\n") << "2";
}

void Matrix3Test::faultsInTablesNameLineAndColumn()
{
    QFETCH(QByteArray, text);
    QFETCH(QString, words);
    const auto table = parseNumberTable(text.toStdString(), "lamp.csv");
    QVERIFY(!table);
    const auto message = QString::fromStdString(table.error().message);
    QVERIFY2(message.startsWith("lamp.csv") && message.contains(words), qPrintable(message));
}

void Matrix3Test::quotedFieldsKeepTheirCommas()
{
    QCOMPARE(splitCsvLine("a,\"b, \"\"c\"\"\",,d"), (std::vector<std::string>{"a", "b, \"c\"", "", "d"}));
}

static const testing::Registered<Matrix3Test> registeredMatrix3Test("matrix3_test");
#include "matrix3_test.moc"
