"""Margins of the demo's height loop by scipy, kept as heightMargins.json. Run by hand: python3 heightMargins.py

The plant is 1/(m s^2) behind a lag of 0.04 s, held over each sample of 1/200 s, with one sample of delay; the law is
kp error - kd rate. Nothing here uses our code: matrices are written down from the formulas.
"""
import json
import numpy as np
from scipy import signal, optimize

mass, lag, dt, delay = 3.4, 0.04, 1 / 200, 1
a = np.array([[0, 1, 0], [0, 0, 1], [0, 0, -1 / lag]])
b = np.array([[0], [0], [1 / (mass * lag)]])
cases = []
for kp, kd in [(21.456329483732976, 13.549287542876616), (14.0, 9.0), (40.0, 18.0)]:
    c = np.array([[kp, kd, 0.0]])
    ad, bd, cd, dd, _ = signal.cont2discrete((a, b, c, np.array([[0.0]])), dt, method="zoh")

    def loop(w):
        _, h = signal.dfreqresp(signal.dlti(ad, bd, cd, dd, dt=dt), w=np.atleast_1d(w * dt))
        return h[0] * np.exp(-1j * w * dt * delay)

    grid = np.logspace(-1, np.log10(np.pi / dt * 0.999), 4000)
    size = np.array([abs(loop(w)) for w in grid])
    k = np.where((size[:-1] >= 1) & (size[1:] < 1))[0][0]
    wc = optimize.brentq(lambda w: abs(loop(w)) - 1, grid[k], grid[k + 1], xtol=1e-13)
    imag = np.array([loop(w).imag for w in grid])
    j = next(i for i in range(len(grid) - 1) if imag[i] < 0 <= imag[i + 1] and loop(grid[i]).real < 0)
    wp = optimize.brentq(lambda w: loop(w).imag, grid[j], grid[j + 1], xtol=1e-13)
    cases.append({"kp": kp, "kd": kd, "crossover": wc, "phaseMargin": float(np.pi + np.angle(loop(wc))), "phaseCrossover": wp, "gainMargin": float(1 / abs(loop(wp)))})
print(json.dumps({"by": "scipy " + __import__("scipy").__version__, "cases": cases}, indent=2))
