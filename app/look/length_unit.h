#pragma once

#include <QCoreApplication>
#include <QString>

namespace ripple::app {

/// The unit in which lengths of a model are edited: one in which neither a buckle nor a whale has many
/// digits.
struct LengthUnit {
    Q_DECLARE_TR_FUNCTIONS(LengthUnit)
public:
    const char* name = "cm";
    double perMetre = 100.0;
    int decimals = 2; ///< enough for a ten-thousandth of the model

    /// "centimetres"
    QString plural() const {
        return perMetre > 100.0 ? tr("millimetres") : perMetre > 1.0 ? tr("centimetres") : tr("metres");
    }
};

/// For a model of `size` metres.
inline LengthUnit lengthUnitFor(double size) {
    constexpr double kSmall = 0.1; // metres: below it, millimetres
    constexpr double kLarge = 20.0;
    return size > 0.0 && size < kSmall ? LengthUnit{"mm", 1000.0, 2}
           : size > kLarge             ? LengthUnit{"m", 1.0, 3}
                                       : LengthUnit{};
}

} // namespace ripple::app
