#include "app/model/spoken.h"

#include "core/base/number_text.h"

#include <QCoreApplication>

namespace wavechroma::app {

static words::Language &language()
{
    static words::Language one = [] {
        words::Language made;
        made.translated = [](std::string_view source) {
            const auto plain = QByteArray(source.data(), qsizetype(source.size()));
            return QCoreApplication::translate("words", plain.constData()).toStdString();
        };
        made.decimalSign = QLocale().decimalPoint().toStdString();
        return made;
    }();
    return one;
}

const words::Language &spoken()
{
    return language();
}

void speakAs(const QLocale &locale)
{
    QLocale::setDefault(locale);
    language().decimalSign = locale.decimalPoint().toStdString();
}

QString text(const words::Phrase &phrase)
{
    return text(words::filled(phrase, spoken()));
}

QString text(const Error &error)
{
    return text(error.phrase);
}

static QString figure(const char *place, double value)
{
    return text(words::filled(place, {{"v", value}}, words::Language{spoken().decimalSign, {}, {}}));
}

QString fixed(double value, int decimals)
{
    return figure(("{v:" + std::to_string(decimals) + "}").c_str(), value);
}

QString withSign(double value, int decimals)
{
    return figure(("{v:+" + std::to_string(decimals) + "}").c_str(), value);
}

QString percent(double ratio, int decimals)
{
    return figure(("{v:%" + std::to_string(decimals) + "}").c_str(), ratio);
}

QString kelvin(double value)
{
    return figure("{v:K}", value);
}

QString stops(double value)
{
    return text(words::stops(value, spoken()));
}

QString exposure(double seconds)
{
    return text(exposureText(seconds)).replace('.', text(spoken().decimalSign));
}

} // namespace wavechroma::app
