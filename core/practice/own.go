package practice

import (
	"math"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/identify"
)

// OwnFormat names the file of a teacher's own task.
const OwnFormat = "zorvel-task-1"

// Own is a task that a teacher made: a real unit with its own story, whose truth he knows.
type Own struct {
	Format string          `json:"format"`
	Title  string          `json:"title"`
	Story  string          `json:"story"`
	Stage  identify.Stage  `json:"stage"`
	Teeth  identify.Counts `json:"teeth"` // of every gear: the truth
	Tag    string          `json:"tag,omitempty"`
	Stamp  string          `json:"stamp,omitempty"`
	// What makes it harder: a limited slip, the side with a seized brake, and how far the
	// other wheel goes for each turn of one, both up and none held.
	LimitedSlip bool    `json:"limited_slip,omitempty"`
	Stuck       string  `json:"stuck,omitempty"`
	Creep       float64 `json:"creep,omitempty"`
}

// Bounds of a teacher's words.
const (
	mostTitle = 100
	mostStory = 1000
)

// Check says what is wrong with a task. Faults are fault.Errors with paths within it.
func (o *Own) Check() error {
	_, err := o.unit()
	return err
}

// check holds everything but the gears against what can be.
func (o *Own) check() error {
	if err := fault.Figures(o); err != nil {
		return err
	}
	var errs fault.Errors
	if o.Format != OwnFormat {
		errs.Add("format", "this is not a task: its format is %s", OwnFormat)
	}
	for _, x := range []struct {
		field, text string
		most        int
	}{{"title", o.Title, mostTitle}, {"story", o.Story, mostStory}} {
		if s := strings.TrimSpace(x.text); s == "" || len(x.text) > x.most {
			errs.Add(x.field, "from 1 to %d characters", x.most)
		}
	}
	if k := o.Stage.Kind; k != identify.RingAndPinion && k != identify.TwoStage && k != identify.Gearcase &&
		(k != identify.TransferCase || o.Stage.Position != "low") {
		errs.Add("stage/kind", "an axle, a two-stage axle, a gearcase, or a transfer case in low")
	}
	if o.Stuck != "" && o.Stuck != left && o.Stuck != right {
		errs.Add("stuck", "left, right, or empty")
	}
	if o.Stuck != "" && o.LimitedSlip {
		errs.Add("stuck", "a limited slip takes both wheels along: one of the two")
	}
	if !(math.Abs(o.Creep) <= 0.9) {
		errs.Add("creep", "from −0.9 to 0.9 turns for each turn")
	}
	return errs.Err()
}

// unit is the hidden unit of the task.
func (o *Own) unit() (*ratioUnit, error) {
	if err := o.check(); err != nil {
		return nil, err
	}
	from, err := spaceOf(o.Stage)
	if err != nil {
		return nil, err
	}
	u := &ratioUnit{task: Task{Kind: "own", Level: 1}, own: o, stage: o.Stage, sp: from.all, tag: o.Tag, diff: openDiff,
		stuck: o.Stuck, creep: o.Creep, play: 0.01, slack: true, ready: ready{up: map[string]bool{}}}
	e, err := o.gears()
	if err != nil {
		return nil, err
	}
	if err := u.build(e); err != nil {
		return nil, fault.Under("teeth", err)
	}
	if o.LimitedSlip {
		u.diff = limitedSlip
	}
	for _, m := range []struct{ field, text string }{{"tag", o.Tag}, {"stamp", o.Stamp}} {
		if m.text == "" {
			continue
		}
		if _, err := identify.ParseMark(m.text, o.Stage); err != nil {
			return nil, fault.New(m.field, "%s", fault.List(err)[0].Message)
		}
	}
	u.stamp = o.Stamp
	if marks, err := identify.ParseMark(o.Tag, o.Stage); o.Tag != "" && err == nil {
		u.tagLies = true
		for _, m := range marks {
			u.tagLies = u.tagLies && m.Canonical() != u.label
		}
	}
	return u, nil
}

// gears are the counted gears as one of the stage's constructions.
func (o *Own) gears() (identify.CatalogEntry, error) {
	cons, err := o.Stage.Constructions()
	if err != nil {
		return identify.CatalogEntry{}, err
	}
	counted := map[string]int{}
	for _, c := range o.Teeth {
		counted[c.Member] = c.Count
	}
	for _, c := range cons {
		e := identify.CatalogEntry{Construction: c.ID, Weight: 1}
		for _, g := range c.Teeth {
			if counted[g.Name] > 0 {
				e.Teeth = append(e.Teeth, counted[g.Name])
			}
		}
		if len(e.Teeth) == len(c.Teeth) && len(e.Teeth) == len(counted) && len(e.Teeth) > 0 {
			return e, identify.CheckEntry(o.Stage, e)
		}
	}
	var need []string
	for _, g := range cons[0].Teeth {
		need = append(need, g.Words)
	}
	if len(cons) > 1 && len(need) == 0 {
		for _, g := range cons[1].Teeth {
			need = append(need, g.Words)
		}
	}
	return identify.CatalogEntry{}, fault.New("teeth", "count every gear: %s", strings.Join(need, ", "))
}
