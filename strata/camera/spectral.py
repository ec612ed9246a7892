"""What a camera sees of a surface: lamp or daylight, its own channels, its maker's matrix.

Planck's law for lamps, the CIE daylight series (CIE 15:2018) for the sky.
The channels are not the observer's, so colours go wrong under lamp light as
they do in life: tools/derive_weights.py.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

_TABLE = json.loads((Path(__file__).parent / "data" / "camera.json").read_text())
_NM = np.arange(380, 731, 10.0)
_DAYLIGHT, _CHANNELS, _MATRIX = (
    np.array(_TABLE["daylight"]),
    np.array(_TABLE["channels"]),
    np.array(_TABLE["matrix"]),
)
LAMP = 4500.0
# kelvin; below it the light is taken to be a lamp, above it the sky
_SECOND_RADIATION = 1.4388e7
# nm K


def spectrum_of_light(kelvin: float) -> Floats:
    """Relative power (36,) of a lamp or of daylight, 1 at 560 nm."""
    if kelvin < LAMP:

        def planck(nm: Floats) -> Floats:
            return np.asarray(nm**-5.0 / np.expm1(_SECOND_RADIATION / (nm * kelvin)))

        return np.asarray(planck(_NM) / planck(np.array([560.0])))
    t = 1000.0 / kelvin
    if kelvin <= 7000:
        x = -4.6070 * t**3 + 2.9678 * t**2 + 0.09911 * t + 0.244063
    else:
        x = -2.0064 * t**3 + 1.9018 * t**2 + 0.24748 * t + 0.237040
    y = -3.0 * x * x + 2.87 * x - 0.275
    under = 0.0241 + 0.2562 * x - 0.7341 * y
    m1, m2 = (-1.3515 - 1.7703 * x + 5.9114 * y) / under, (0.03 - 31.4424 * x + 30.0717 * y) / under
    power = _DAYLIGHT[0] + m1 * _DAYLIGHT[1] + m2 * _DAYLIGHT[2]
    return np.asarray(power / power[18])


@dataclass(frozen=True)
class Eye:
    """A camera under a light: ``balance`` is how much of the light's colour it takes out, 0..1."""

    kelvin: float
    balance: float

    @cached_property
    def _power(self) -> Floats:
        return spectrum_of_light(self.kelvin)

    @cached_property
    def _white(self) -> Floats:
        """What the camera takes for white: the light's own, as far as it noticed, else daylight's."""
        own = self._power @ _CHANNELS.T
        usual = spectrum_of_light(5003.0) @ _CHANNELS.T
        return np.asarray((own / own[1]) ** self.balance * (usual / usual[1]) ** (1 - self.balance))

    def sees(self, reflectances: Floats) -> Floats:
        """Linear sRGB (..., 3) of reflectances (..., 36), before exposure; may lie outside 0..1."""
        raw = (reflectances * self._power) @ _CHANNELS.T / (self._power @ _CHANNELS[1])
        return np.asarray(raw / self._white @ _MATRIX)
