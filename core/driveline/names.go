package driveline

import (
	"slices"
	"strings"

	"zorvel/core/say"
)

// Of names what belongs to a part by the part's own name, as a shop does: "rear axle
// ring gear", "transfer case output". The words begin small, for use in a sentence.
func Of(p *Part, what string) string { return say.Small(p.Called()) + " " + what }

// Lever is Of for what stands alone, on a lever: "Rear locker", "Transfer case range".
// The axle is left out where the name ends with it: a rear locker is the rear axle's.
func Lever(p *Part, what string) string {
	return say.Capital(strings.TrimSuffix(p.Called(), " axle")) + " " + what
}

// AxleShaft names the shaft that drives a wheel: "left rear axle shaft" for the rear
// left wheel, "outer tire axle shaft" for one that is called so.
func AxleShaft(p *Part) string {
	name := strings.TrimSuffix(say.Small(p.Called()), " wheel")
	if end, side, two := strings.Cut(name, " "); two && (end == "front" || end == "rear") &&
		(side == "left" || side == "right") {
		name = side + " " + end
	}
	return name + " axle shaft"
}

// LockOf is the lock inside a part, within a sentence: "rear locker", "transfer case
// center lock", "inter-axle differential lock".
func LockOf(p *Part) string {
	switch {
	case p.Axle != nil:
		return say.Small(Lever(p, "locker"))
	case p.TransferCase != nil:
		return Of(p, "center lock")
	}
	return Of(p, "lock")
}

// Set says a position of a lever as a person would, after what the unit does: "in 3rd
// gear", "in low range", "in 2WD", "with the clutch pedal down", "with the rear locker
// on". Where another lever among them has a position that is called so, this one is named.
func (s *Selector) Set(o SelectorOption, among []Selector) string {
	name := say.Small(s.Name)
	alike := 0
	for i := range among {
		if among[i].Role >= RoleGear && slices.ContainsFunc(among[i].Options, func(x SelectorOption) bool { return x.Words == o.Words }) {
			alike++
		}
	}
	_, what, _ := strings.Cut(s.ID, ".")
	switch {
	case s.Role >= RoleGear && alike > 1:
		return "with the " + name + " in " + o.Words
	case s.Role >= RoleGear, strings.HasPrefix(o.Words, "2WD"), strings.HasPrefix(o.Words, "4WD"):
		return "in " + o.Words
	case s.Role == RoleClutch && o.Neutral:
		return "with the " + name + " pedal down"
	case what == "center":
		return "with the " + o.Words
	case what == "side" && o.Value != "engaged":
		return "with the " + o.Words
	case what == "lock" && o.Value == "locked":
		return "with the " + name + " on"
	case what == "lock":
		return "with the " + name + " off"
	}
	words := o.Words
	if i := strings.LastIndex(name, " "); i >= 0 {
		words = strings.TrimPrefix(words, name[i+1:]+" ") // the hubs' "hubs locked"
	}
	return "with the " + name + " " + words
}

// Together names several parts as one would: "both rear wheels", "all four wheels", "rear
// left wheel, gearbox and front driveshaft". The names stand in the order given, a group
// where its first stood.
func Together(names []string) string {
	left := slices.Clone(names)
	take := func(group string, of ...string) {
		at := -1
		for _, n := range of {
			i := slices.Index(left, n)
			if i < 0 {
				return
			}
			if at < 0 || i < at {
				at = i
			}
		}
		left[at] = group
		for _, n := range of {
			if i := slices.Index(left, n); i >= 0 {
				left = slices.Delete(left, i, i+1)
			}
		}
	}
	take("all four wheels", "front left wheel", "front right wheel", "rear left wheel", "rear right wheel")
	take("both front wheels", "front left wheel", "front right wheel")
	take("both rear wheels", "rear left wheel", "rear right wheel")
	take("both driveshafts", "front driveshaft", "rear driveshaft")
	return say.And(left)
}
