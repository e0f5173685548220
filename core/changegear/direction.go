package changegear

import (
	"fmt"
	"strings"

	"zorvel/core/driveline"
	"zorvel/core/driveline/trace"
)

// Turn is another way to mount the unit, and which way it would then drive.
type Turn struct {
	What    string   `json:"what"`
	Forward bool     `json:"forward"`
	With    []string `json:"with"` // what goes with it
}

// Direction says which way the wheels turn, before anything is bolted.
type Direction struct {
	Forward  bool   `json:"forward"`
	Sentence string `json:"sentence"`
	Ways     []Turn `json:"ways"`
}

// direction asks the driveline itself, in its first forward gear with the
// wheels off the ground.
func (w *work) direction() (*Direction, error) {
	a := w.axle
	lies := Lies{Mounting: w.mounting(), RingSide: a.Axle.RingSide, PinionAt: a.Axle.PinionAt, Spin: "standard", Hypoid: &a.Axle.Offset}
	for _, p := range w.doc.Parts {
		if p.Engine != nil && p.Engine.Rotation != "" {
			lies.Spin = p.Engine.Rotation
		}
	}
	if l := w.q.Lies; l != nil {
		for _, x := range []struct{ to, from *string }{{&lies.RingSide, &l.RingSide}, {&lies.PinionAt, &l.PinionAt}, {&lies.Spin, &l.Spin}} {
			if *x.from != "" {
				*x.to = *x.from
			}
		}
		if l.Hypoid != nil {
			lies.Hypoid = l.Hypoid
		}
	}
	if lies.RingSide == "" {
		lies.RingSide = "left"
	}
	if lies.PinionAt == "" {
		lies.PinionAt = "ahead"
	}
	forward, err := w.drives(lies)
	if err != nil {
		return nil, err
	}
	d := &Direction{Forward: forward, Ways: []Turn{}}
	where := mountedAs(lies)
	if forward {
		d.Sentence = where + " forward in a forward gear."
		return d, nil
	}
	d.Sentence = where + " BACKWARD in a forward gear."
	top := []string{"breather and filler must be at the top again", "set the oil level again for the new position"}
	try := func(what string, l Lies, with ...string) error {
		f, err := w.drives(l)
		if err == nil {
			d.Ways = append(d.Ways, Turn{What: what, Forward: f, With: with})
		}
		return err
	}
	over := lies
	over.Mounting = map[string]string{"turned_over": "upright"}[lies.Mounting]
	if over.Mounting == "" {
		over.Mounting = "turned_over"
	}
	if err := try("turn the unit over, about its length", over, append([]string{"input and pinion shaft change places: lower is upper"}, top...)...); err != nil {
		return nil, err
	}
	// End for end, ring and pinion both change sides, which cancels out however
	// else it lies.
	end := lies
	switch lies.Mounting {
	case "end_for_end":
		end.Mounting = "upright"
	case "upright":
		end.Mounting = "end_for_end"
	}
	if err := try("turn the unit end for end, fed from its other end", end, top...); err != nil {
		return nil, err
	}
	if *lies.Hypoid {
		d.Ways = append(d.Ways, Turn{What: "move carrier and ring to the other side of the pinion", With: []string{"not with a hypoid: pinion and ring axes do not meet, so the ring fits one side only"}})
		return d, nil
	}
	side := lies
	side.RingSide = map[string]string{"left": "right", "right": "left"}[lies.RingSide]
	return d, try("move carrier and ring to the other side of the pinion", side, "the shims go with their bearings",
		"measure backlash and bearing preload again")
}

// drives reports whether the wheels turn forward.
func (w *work) drives(l Lies) (bool, error) {
	d := *w.doc
	d.Parts = append([]driveline.Part(nil), d.Parts...)
	sel := map[string]string{}
	for i := range d.Parts {
		p := &d.Parts[i]
		switch {
		case p.ID == w.axle.ID:
			a := *p.Axle
			a.RingSide, a.PinionAt, a.Offset, a.Change = l.RingSide, l.PinionAt, *l.Hypoid, &driveline.ChangeGears{Input: 20, Pinion: 20}
			p.Axle, p.Mounting = &a, l.Mounting
		case p.Engine != nil:
			e := *p.Engine
			e.Rotation = l.Spin
			p.Engine = &e
		case p.Gearbox != nil:
			for _, g := range p.Gearbox.Gears {
				if g.Idler == 0 && g.Ratio.Sign() >= 0 {
					sel[p.ID] = g.Name
					break
				}
			}
		}
	}
	t, err := trace.Run(&d, driveline.State{Select: sel, Wheels: d.LiftAll()}, trace.Want{})
	if err != nil {
		return false, err
	}
	for _, x := range t.Shafts {
		if strings.HasPrefix(x.ID, w.axle.ID+".") && x.Axis == driveline.Crosswise && x.Sign != 0 {
			return x.Sign > 0, nil
		}
	}
	return false, fmt.Errorf("no shaft of %s turns", w.axle.ID)
}
