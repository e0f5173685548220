package drills

import (
	"fmt"
	"math/rand/v2"
	"strings"

	"zorvel/core/driveline/network"
	"zorvel/core/exact"
	"zorvel/core/say"
)

// Pieces of the differential that is built, and where they go.
const (
	inCarrier = "carrier"
	onLeft    = "left"
	onRight   = "right"

	pieceNone   = "none"
	pieceBar    = "bar"    // a bar through the carrier, free to swing about its middle
	pieceFixed  = "fixed"  // the same bar, bolted fast
	pieceSpokes = "spokes" // a hub with spokes for the bar's ends to push
	pieceClamp  = "clamp"  // the axle shaft clamped to the carrier
)

// differential has a differential built from a bar and spokes: it has to drive both wheels,
// and still turn a corner.
func differential() drill {
	return drill{"differential", "Build the differential",
		"A carrier, two axle shafts, a bar and some spokes. Build what drives both wheels and still turns a " +
			"corner.", 40,
		[MostLevel]string{"A differential", "A differential, again", "A spool"},
		func(r *rand.Rand, level int) (Card, marker, error) {
			side := func(id, name string) Place {
				return Place{id, name, offered(r, []Choice{{pieceNone, "Nothing"}, {pieceSpokes, "A hub with spokes"},
					{pieceClamp, "A clamp to the carrier"}})}
			}
			c := Card{Ask: "What goes where, so that both wheels are driven and the outer one can run ahead in a " +
				"corner?", Takes: Build,
				Picture: &Picture{Kind: "differential"},
				Places: []Place{side(onLeft, "On the left axle shaft"),
					{inCarrier, "Through the carrier", offered(r, []Choice{{pieceNone, "Nothing"}, {pieceBar,
						"A bar that swings about its middle"}, {pieceFixed, "A bar bolted fast"}})},
					side(onRight, "On the right axle shaft")}}
			if level == 3 {
				c.Ask = "Now build a spool: both wheels driven, and neither can run ahead."
			}
			return c, func(a Answer) (Marked, error) { return tryBuilt(a.Built, level == 3) }, nil
		}}
}

// Built solves what was put together: how each axle shaft turns for each turn of the
// carrier on a straight road and with the left wheel running ahead by a tenth, or why not.
// A bar that swings pushes the spokes of both hubs: what one gains on the carrier the other
// loses, left + right = 2 × carrier.
func built(at map[string]string, corner bool) (*network.Report, error) {
	n := network.Network{Shafts: []string{inCarrier, onLeft, onRight}, Elements: []network.Element{
		{ID: "ring gear", Kind: network.Drive, Shaft: inCarrier, Speed: exact.Int(1)},
	}}
	spokes := at[onLeft] == pieceSpokes && at[onRight] == pieceSpokes
	for _, side := range []string{onLeft, onRight} {
		if at[side] == pieceClamp || at[side] == pieceSpokes && at[inCarrier] == pieceFixed {
			n.Elements = append(n.Elements, network.Element{ID: side, Kind: network.Coupling, A: inCarrier, B: side})
		}
	}
	if spokes && at[inCarrier] == pieceBar {
		n.Elements = append(n.Elements, network.Element{ID: "bar", Kind: network.Differential, Left: onLeft,
			Right: onRight, Carrier: inCarrier})
	}
	if corner {
		n.Elements = append(n.Elements, network.Element{ID: "road", Kind: network.Drive, Shaft: onLeft,
			Speed: exact.New(11, 10)})
	}
	return network.Answer(n, false)
}

// tryBuilt drives what was built straight on and around a corner.
func tryBuilt(at map[string]string, spool bool) (Marked, error) {
	m := Marked{Truth: "A bar that swings, and a hub with spokes on each axle shaft", Shafts: map[string]float64{}}
	if spool {
		m.Truth = "Both axle shafts fast on the carrier"
	}
	straight, err := built(at, false)
	if err != nil {
		return m, err
	}
	corner, err := built(at, true)
	if err != nil {
		return m, err
	}
	var loose []string
	linked := at[onLeft] == pieceSpokes && at[onRight] == pieceSpokes && at[inCarrier] == pieceBar
	for _, s := range straight.Shafts {
		if s.Speed != nil {
			m.Shafts[s.Shaft] = s.Speed.Float()
		}
		if s.Shaft != inCarrier && s.State == network.Free && !linked {
			loose = append(loose, s.Shaft)
		}
	}
	if linked {
		m.Shafts[onLeft], m.Shafts[onRight] = 1, 1 // both wheels on one road
	}
	binds := len(corner.Binds) > 0
	if !binds && len(loose) == 0 {
		m.Corner = map[string]float64{}
		for _, s := range corner.Shafts {
			if s.Speed != nil {
				m.Corner[s.Shaft] = say.Round(s.Speed.Float(), 4)
			}
		}
	}
	switch {
	case len(loose) > 0:
		m.Sentence = fmt.Sprintf("Nothing drives the %s wheel: it only spins along.", strings.Join(loose, " and the "))
	case binds && !spool:
		m.Sentence = "It drives straight on. In a corner it binds: both wheels are fast on the carrier, and the " +
			"inner one scrubs."
	case spool && !binds:
		m.Sentence = "It drives, but one wheel can run ahead: that is a differential, no spool."
	default:
		m.Right, m.Points = true, 100
		m.Sentence = "It drives both wheels, and around a corner the outer one gains what the inner one loses."
		if spool {
			m.Sentence = "It drives both wheels alike, and scrubs in every corner: a spool."
		}
	}
	for k, v := range m.Shafts {
		m.Shafts[k] = say.Round(v, 4)
	}
	return m, nil
}
