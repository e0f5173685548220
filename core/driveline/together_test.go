package driveline

import "testing"

func TestTogether(t *testing.T) {
	for want, names := range map[string][]string{
		"":                                       nil,
		"gearbox":                                {"gearbox"},
		"both rear wheels":                       {"rear left wheel", "rear right wheel"},
		"all four wheels":                        {"rear left wheel", "rear right wheel", "front left wheel", "front right wheel"},
		"both front wheels and front driveshaft": {"front left wheel", "front right wheel", "front driveshaft"},
		"both rear wheels, front left wheel and pinion": {"rear left wheel", "rear right wheel", "front left wheel", "pinion"},
		"all four wheels and both driveshafts": {"rear left wheel", "front right wheel", "front left wheel",
			"rear right wheel", "rear driveshaft", "front driveshaft"},
		"front left wheel and rear right wheel":       {"front left wheel", "rear right wheel"},
		"gearbox, both rear wheels and transfer case": {"gearbox", "rear right wheel", "transfer case", "rear left wheel"},
	} {
		if got := Together(names); got != want {
			t.Errorf("%q: %q, want %q", names, got, want)
		}
	}
}
