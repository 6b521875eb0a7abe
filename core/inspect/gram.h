#pragma once

#include "base/no_progress.h"

#include <cstddef>
#include <vector>

namespace ripple::inspect {

/// Gram matrix of `rows` vectors of `length` numbers each, one after another: result[i · rows + j] is the dot
/// product of i and j, symmetric. Products are summed in 32 bits over 1 024 numbers, and those sums in 64.
///
/// Our own because a general library would have to be built once for each processor to be quick (with the
/// baseline instructions Eigen takes three times as long); here one function is, and gives the same bits on
/// all.
std::vector<double> gramMatrix(const float* vectors, std::size_t rows, std::size_t length,
                               const base::Progress& progress = base::noProgress());

} // namespace ripple::inspect
