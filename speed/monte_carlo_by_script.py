# What a user would write: a million specimens of the demonstration's thermistor divider, vectorised. Needs numpy.
import time

import numpy as np


def trials(n, generator):
    flat = lambda half: generator.uniform(-half, half, n)
    true = 25.0
    shown = true - generator.normal(0, 0.08, n) - flat(0.05) - flat(0.1)  # calibration, drift, placement
    ohms = 10e3 * np.exp(3950 * (1 / (shown + 273.15) - 1 / 298.15))
    supply = 3.3 * (1 + flat(0.02))
    volts = supply * ohms / (ohms + 8200 * (1 + flat(0.01)))
    code = volts / supply * 4096 * (1 + flat(0.001)) + flat(2) + flat(1.5) + generator.normal(0, 1.2, n) + flat(0.5)
    ratio = code / 4096
    read = 1 / (1 / 298.15 + np.log(8200 * ratio / (1 - ratio) / 10e3) / 3950) - 273.15
    misses = np.sort(read - true)
    inside = int(np.ceil(0.95 * n))
    lengths = misses[inside - 1:] - misses[:n - inside + 1]
    start = int(np.argmin(lengths))
    return np.std(misses), misses[start], misses[start + inside - 1]


best = 9e9
for seed in range(9):
    begin = time.perf_counter()
    result = trials(1_000_000, np.random.default_rng(seed))
    best = min(best, time.perf_counter() - begin)
print(f"by script {best:.3f} s, standard {result[0]:.4f}, 95 % within {result[1]:+.4f} to {result[2]:+.4f}")
