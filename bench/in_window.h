#pragma once
#include "app/view/widgets/look.h"

#include <QCoreApplication>

namespace wavechroma::bench {

/// As the program looks, with settings of its own. The application must be there.
inline void dressWindow()
{
    QCoreApplication::setOrganizationName("wavechroma-bench");
    app::useStyle();
    app::useTypeface();
    app::useSurround(app::Surround::Board);
}

} // namespace wavechroma::bench
