#pragma once
#include "core/jobstore/job_rows.h"
#include "core/jobstore/row_table.h"

/// The tables of a job: one for each kind of row, and each member's column in it.
namespace wavechroma::sql {

template <class Row> [[nodiscard]] const Table<Row> &tableOf();
template <> const Table<JobTitle> &tableOf<JobTitle>();
template <> const Table<JobSetup> &tableOf<JobSetup>();
template <> const Table<JobFrame> &tableOf<JobFrame>();
template <> const Table<JobReading> &tableOf<JobReading>();
template <> const Table<JobCalibration> &tableOf<JobCalibration>();
template <> const Table<JobChart> &tableOf<JobChart>();
template <> const Table<JobProbe> &tableOf<JobProbe>();
template <> const Table<JobTarget> &tableOf<JobTarget>();
template <> const Table<JobDelivery> &tableOf<JobDelivery>();

} // namespace wavechroma::sql
