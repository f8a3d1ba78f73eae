// Feeds a target with random and mutated inputs for some seconds: `fair_gauge_fuzz TARGET [--seconds S] [--seed N]
// FILE…`. The files are where it starts from. A crash leaves its input in ./fuzz-crash.
#include <chrono>
#include <csignal>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <fstream>
#include <iostream>
#include <iterator>
#include <random>
#include <string>
#include <vector>

#include <unistd.h>

#include "fuzz/targets.h"

namespace {

std::string current;

void keep_input(int) {
  std::ofstream("fuzz-crash", std::ios::binary) << current;
  ::_exit(1);
}

std::string mutated(std::string text, const std::vector<std::string>& others, std::mt19937_64& random) {
  const auto below = [&](std::size_t n) { return static_cast<std::size_t>(random() % (n + 1)); };
  const std::size_t changes = 1 + below(8);
  for (std::size_t i = 0; i < changes; ++i) {
    const std::size_t at = below(text.size());
    switch (random() % 6) {
      case 0: text.insert(at, 1, static_cast<char>(random())); break;
      case 1:
        if (at < text.size()) text[at] = static_cast<char>(random());
        break;
      case 2: text.erase(at, below(16)); break;
      case 3: text.insert(at, text.substr(below(text.size()), below(64))); break;
      case 4: text.insert(at, std::to_string(static_cast<std::int64_t>(random()) >> (random() % 63))); break;
      default: {
        const std::string& other = others[random() % others.size()];
        text.insert(at, other.substr(below(other.size()), below(200)));
      }
    }
  }
  if (text.size() > 1 << 16) text.resize(1 << 16);
  return text;
}

}  // namespace

int main(int count, char** words) {
  const auto& targets = fuzz_targets();
  const auto target = targets.find(count > 1 ? words[1] : "");
  if (target == targets.end()) {
    std::cerr << "which target? one of";
    for (const auto& [name, run] : targets) std::cerr << " " << name;
    std::cerr << "\n";
    return 2;
  }
  double seconds = 1;
  std::uint64_t seed = 1;
  std::vector<std::string> corpus{""};
  for (int i = 2; i < count; ++i) {
    const std::string word = words[i];
    if (word == "--seconds" && i + 1 < count)
      seconds = std::atof(words[++i]);
    else if (word == "--seed" && i + 1 < count)
      seed = std::strtoull(words[++i], nullptr, 10);
    else if (std::ifstream file(word, std::ios::binary); file)
      corpus.emplace_back(std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>());
  }
  for (const int fault : {SIGSEGV, SIGABRT, SIGFPE, SIGILL, SIGBUS}) std::signal(fault, keep_input);
  std::mt19937_64 random(seed);
  std::uint64_t runs = 0;
  const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(seconds);
  for (; std::chrono::steady_clock::now() < end; ++runs) {
    current = runs < corpus.size() ? corpus[runs] : mutated(corpus[random() % corpus.size()], corpus, random);
    target->second(reinterpret_cast<const std::uint8_t*>(current.data()), current.size());
  }
  std::cout << runs << " inputs\n";
  return 0;
}
