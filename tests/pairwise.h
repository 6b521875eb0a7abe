#pragma once

#include <cstddef>
#include <set>
#include <tuple>
#include <vector>

namespace ripple::tests {

/// Choices of one value for each of several options, of which there are `counts[option]`: few of them, yet every
/// value of an option meets every value of every other option in one choice at least. Greedy: each choice begins
/// with a pair that has not met yet, and takes for every further option the value that meets most for the first time.
inline std::vector<std::vector<int>> pairwiseChoices(const std::vector<int>& counts) {
    using Pair = std::tuple<std::size_t, int, std::size_t, int>; // a value of an option, one of a later option
    std::set<Pair> met;
    const auto pairOf = [](std::size_t a, int x, std::size_t b, int y) {
        return a < b ? Pair(a, x, b, y) : Pair(b, y, a, x);
    };
    std::vector<std::vector<int>> choices;
    const auto choose = [&](std::size_t a, int x, std::size_t b, int y) {
        std::vector<int> choice(counts.size(), -1);
        choice[a] = x;
        choice[b] = y;
        for (std::size_t option = 0; option < counts.size(); ++option) {
            if (choice[option] >= 0) {
                continue;
            }
            int best = 0;
            int mostNew = -1;
            for (int i = 0; i < counts[option]; ++i) {
                // Where several do as well, not always the first one.
                const int value = (i + static_cast<int>(choices.size())) % counts[option];
                int isNew = 0;
                for (std::size_t other = 0; other < counts.size(); ++other) {
                    isNew += choice[other] >= 0 && !met.contains(pairOf(option, value, other, choice[other]));
                }
                if (isNew > mostNew) {
                    mostNew = isNew;
                    best = value;
                }
            }
            choice[option] = best;
        }
        return choice;
    };
    for (std::size_t a = 0; a < counts.size(); ++a) {
        for (std::size_t b = a + 1; b < counts.size(); ++b) {
            for (int x = 0; x < counts[a]; ++x) {
                for (int y = 0; y < counts[b]; ++y) {
                    if (met.contains(Pair(a, x, b, y))) {
                        continue;
                    }
                    const std::vector<int> made = choose(a, x, b, y);
                    for (std::size_t i = 0; i < counts.size(); ++i) {
                        for (std::size_t j = i + 1; j < counts.size(); ++j) {
                            met.emplace(i, made[i], j, made[j]);
                        }
                    }
                    choices.push_back(made);
                }
            }
        }
    }
    return choices;
}

/// Every choice of one value for each option.
inline std::vector<std::vector<int>> allChoices(const std::vector<int>& counts) {
    std::vector<std::vector<int>> choices = {{}};
    for (const int count : counts) {
        std::vector<std::vector<int>> longer;
        for (const std::vector<int>& choice : choices) {
            for (int value = 0; value < count; ++value) {
                longer.push_back(choice);
                longer.back().push_back(value);
            }
        }
        choices = std::move(longer);
    }
    return choices;
}

} // namespace ripple::tests
