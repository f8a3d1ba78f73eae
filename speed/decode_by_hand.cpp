// The fastest single-purpose loop, to measure `decode --batch` against: columns adc_T,adc_P,adc_H of the three-quantity
// compensated part with the example trimming of its part file, one core, the same text out.
#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <string>

namespace {

char* write_decimals(char* to, double value) {
  auto scaled = static_cast<std::int64_t>(std::llround(value * 1e4));
  if (scaled < 0) *to++ = '-', scaled = -scaled;
  char digits[24];
  int n = 0;
  for (std::int64_t rest = scaled; rest > 0 || n < 5; rest /= 10) digits[n++] = static_cast<char>('0' + rest % 10);
  while (n > 4) *to++ = digits[--n];
  *to++ = '.';
  while (n > 0) *to++ = digits[--n];
  return to;
}

const char* read_number(const char* at, double& number) {
  std::int64_t value = 0;
  while (*at >= '0' && *at <= '9') value = value * 10 + (*at++ - '0');
  number = static_cast<double>(value);
  return at + 1;
}

}  // namespace

int main(int count, char** words) {
  if (count < 3) return 2;
  const int in = ::open(words[1], O_RDONLY), out = ::open(words[2], O_WRONLY | O_CREAT | O_TRUNC, 0644);
  constexpr std::size_t block = 1 << 19;
  std::string buffer(block + 4096, '\0'), result(block * 3, '\0');
  std::size_t kept = 0;
  bool header = true;
  for (ssize_t got; (got = ::read(in, buffer.data() + kept, block)) > 0;) {
    const char* at = buffer.data();
    const char* end = at + kept + static_cast<std::size_t>(got);
    char* to = result.data();
    while (const auto* line_end = static_cast<const char*>(std::memchr(at, '\n', static_cast<std::size_t>(end - at)))) {
      if (header) {
        constexpr char line[] = "temperature_Cel,pressure_Pa,humidity_%\n";
        std::memcpy(to, line, sizeof line - 1);
        to += sizeof line - 1;
        header = false;
      } else {
        double adc_T, adc_P, adc_H;
        read_number(read_number(read_number(at, adc_T), adc_P), adc_H);
        double v1 = (adc_T / 16384.0 - 28120 / 1024.0) * 26190, far = adc_T / 131072.0 - 28120 / 8192.0;
        const double t_fine = v1 + far * far * 50;
        v1 = t_fine / 2.0 - 64000.0;
        double v2 = v1 * v1 * -7 / 32768.0 + v1 * -90 * 2.0;
        v2 = v2 / 4.0 + 6500 * 65536.0;
        v1 = (1.0 + (3024 * v1 * v1 / 524288.0 + -10580 * v1) / 524288.0 / 32768.0) * 37210;
        double p = (1048576.0 - adc_P - v2 / 4096.0) * 6250.0 / v1;
        p += (4285 * p * p / 2147483648.0 + p * -10230 / 32768.0 + 9900) / 16.0;
        const double off = t_fine - 76800.0;
        double h = (adc_H - (321 * 64.0 + 50 / 16384.0 * off)) * (362 / 65536.0 * (1.0 + 30 / 67108864.0 * off));
        h = std::clamp(h * (1.0 - 75 * h / 524288.0), 0.0, 100.0);
        to = write_decimals(to, t_fine / 5120.0);
        *to++ = ',';
        to = write_decimals(to, p);
        *to++ = ',';
        to = write_decimals(to, h);
        *to++ = '\n';
      }
      at = line_end + 1;
    }
    kept = static_cast<std::size_t>(end - at);
    std::memmove(buffer.data(), at, kept);
    if (::write(out, result.data(), static_cast<std::size_t>(to - result.data())) < 0) return 4;
  }
  return 0;
}
