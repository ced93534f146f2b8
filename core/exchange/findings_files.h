#pragma once
// Findings as files: JSON, the form that code-scanning services read (SARIF 2.1.0), the form that build servers read as tests.

#include <nlohmann/json_fwd.hpp>
#include <set>
#include <string>
#include <vector>

#include "core/review/findings.h"

namespace dune::exchange {

/// `muted`: how many more there are that are passed over.
nlohmann::ordered_json findingsJson(const std::vector<review::Finding>& findings, std::size_t muted = 0);
/// `input`: the file that they are about. Those that are passed over are in it as suppressed. `version`: of this program.
nlohmann::ordered_json findingsSarif(const std::vector<review::Finding>& findings, const std::string& input, const std::string& version);
/// A test a kind of finding; those of which there is something worse than hints fail.
std::string findingsJunit(const std::vector<review::Finding>& findings);

/// The subjects (review/subject.h) of findings that were written as JSON. Fails on text that is nothing such.
Result<std::multiset<std::string>> subjectsFromJson(const std::string& text);
/// Leaves those out that are among `known`, each as often as it is there.
std::vector<review::Finding> without(std::vector<review::Finding> findings, std::multiset<std::string> known);

}  // namespace dune::exchange
