package driveline

import (
	"fmt"
	"strconv"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// expand adds the shafts and elements of a part fed by the shaft in.
func (m *Machine) expand(p *Part, in string) {
	whole := !m.Broken(p)
	axis := Lengthwise
	if in != "" {
		axis = m.ByID[in].Axis
	}
	p.made().expand(m, p, in, axis, whole)
}

func pairWords(driven string, nd int, drive string, nr int, how string) string {
	s := driven + " on " + drive
	if nd > 0 {
		s = fmt.Sprintf("%s %d on %s %d", driven, nd, drive, nr)
	}
	if how != "" {
		s += ", " + how
	}
	return s
}

// meshSense is the sense of a pair with idlers between: each external mesh
// turns it around, an idler never changes the ratio.
func meshSense(kind string, idlers int) (network.Sense, string) {
	switch kind {
	case "internal":
		return network.Internal, "internal mesh: same direction"
	case "chain":
		return network.Chain, "chain: same direction"
	}
	how := ""
	switch idlers {
	case 0:
	case 1:
		how = "one idler between, which turns the direction and not the ratio; "
	default:
		how = fmt.Sprintf("%d idlers between, which leave the ratio alone; ", idlers)
	}
	if idlers%2 == 1 {
		return network.Internal, how + "same direction"
	}
	return network.External, how + "direction reversed"
}

// selectable adds a gear that runs loose until its dogs engage, or one that is
// slid into mesh.
func (m *Machine) selectable(p *Part, x Gear, in, counter, out string, axis Axis, on bool, words string) {
	from := counter
	if from == "" {
		from = in
	}
	loose := out
	if x.Selector != "sliding" {
		loose = m.add(p, "gear "+x.Name, "loose gear of "+words, axis)
	} else if !on {
		return
	}
	if x.Idler > 0 {
		idler := m.add(p, "idler "+x.Name, "idler of "+words, axis)
		m.gears(p, "idler drive "+x.Name, x.Name, from, idler, x.Drive, x.Idler, exact.Number{}, network.External,
			pairWords("idler", x.Idler, "drive gear", x.Drive, "direction reversed again"))
		from = idler
		m.gears(p, "gear "+x.Name, x.Name, from, loose, x.Idler, x.Driven, exact.Number{}, network.External,
			pairWords(words, x.Driven, "idler", x.Idler, "an idler changes the direction, not the ratio"))
	} else {
		m.gears(p, "gear "+x.Name, x.Name, from, loose, x.Drive, x.Driven, exact.Number{}, network.External,
			pairWords(words, x.Driven, "drive gear", x.Drive, ""))
	}
	if loose != out {
		how := "synchronizer"
		if x.Selector == "dog" {
			how = "dogs"
		}
		m.couple(p, network.Coupling, "select "+x.Name, loose, out, on, how+" of "+words+" engaged")
	}
}

func GearWords(name string) string {
	switch name {
	case "R":
		return "reverse"
	case "N":
		return "neutral"
	}
	if n, err := strconv.Atoi(name); err == nil && n > 0 {
		return say.Ordinal(n) + " gear"
	}
	return "gear " + name
}

func count(n int) string {
	if n == 0 {
		return "?"
	}
	return exact.Int(int64(n)).String()
}

func rangeOptions(low []Need) []SelectorOption {
	return []SelectorOption{{Value: "high", Words: "high range"}, {Value: "low", Words: "low range", Needs: low},
		{Value: "N", Words: "neutral", Neutral: true}}
}
