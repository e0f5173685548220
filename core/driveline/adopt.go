package driveline

import (
	"fmt"
	"slices"
	"strings"

	"zorvel/core/fault"
)

// Units once had a line of stages beside their driveline, tied to it by number
// or by the words of their names. What follows reads such lines one last time:
// in a schema's migration and in documents of that form.

// Former is a stage as it stood in a unit's line.
type Former struct {
	ID       int64 // as the document's sources name it
	Name     string
	Kind     string // as package identify names kinds
	Position string
	Held     string
	Input    string
}

// Adopt finds the part and ratio that each former stage measured. Those that
// fit no part of the document, or a document that isn't there, become parts of
// their own at an open end, with nothing known of them. The document comes back
// without the stages' numbers; it is a new one where it had to change.
func Adopt(d *Document, former []Former) (*Document, []Place) {
	a := adoption{doc: &Document{Format: Format, Lies: Bench}, places: make([]Place, len(former)), taken: map[Place]bool{}, added: map[string]bool{}}
	if d != nil {
		copied := *d
		copied.Parts = slices.Clone(d.Parts)
		a.doc = &copied
	}
	a.byNumber(former)
	for i, f := range former {
		if a.places[i] == (Place{}) {
			a.take(i, a.byWords(f))
		}
	}
	for i, f := range former {
		if a.places[i] == (Place{}) {
			a.take(i, a.newPart(f))
		}
	}
	if len(a.doc.Parts) == 0 { // nothing at all was known
		a.doc.Parts = []Part{{ID: "engine", Kind: "engine", Name: "Engine", Engine: &Engine{}}}
	}
	return a.doc, a.places
}

type adoption struct {
	doc    *Document
	places []Place
	taken  map[Place]bool
	added  map[string]bool // parts that were added here
}

func (a *adoption) take(i int, at Place) {
	if at != (Place{}) {
		a.places[i], a.taken[at] = at, true
	}
}

// fits is the ratio of a part that a former stage can have measured.
func fits(p *Part, f Former) string {
	for _, x := range p.made().asks() {
		if (x.kind == f.Kind || slices.Contains(x.also, f.Kind)) && x.position == f.Position {
			return x.ratio
		}
	}
	return ""
}

// byNumber follows the sources that name a stage, and takes the numbers out.
func (a *adoption) byNumber(former []Former) {
	for k := range a.doc.Parts {
		p := &a.doc.Parts[k]
		if p.Sources == nil {
			continue
		}
		sources := make(map[string]Source, len(p.Sources))
		for name, src := range p.Sources {
			i := slices.IndexFunc(former, func(f Former) bool { return f.ID == src.Stage })
			at := Place{p.ID, name}
			if src.Stage != 0 && i >= 0 && fits(p, former[i]) == name && !a.taken[at] && a.places[i] == (Place{}) {
				a.take(i, at)
			}
			src.Stage = 0
			sources[name] = src
		}
		p.Sources = sources
	}
}

// byWords finds the part that fits and shares most words with the stage's name.
func (a *adoption) byWords(f Former) Place {
	var best Place
	score := 0
	for i := range a.doc.Parts {
		p := &a.doc.Parts[i]
		ratio := fits(p, f)
		at := Place{p.ID, ratio}
		if ratio == "" || a.taken[at] {
			continue
		}
		n := 1
		title, name := strings.ToLower(p.Called()), strings.ToLower(f.Name)
		for _, w := range strings.Fields(name) {
			if strings.Contains(title, w) {
				n++
			}
		}
		// A front axle is never measured at a stage called rear.
		if strings.Contains(name, "front") && strings.Contains(title, "rear") || strings.Contains(name, "rear") && strings.Contains(title, "front") {
			n = 0
		}
		if n > score {
			best, score = at, n
		}
	}
	return best
}

// newPart adds a part for a stage, or a ratio to one that was added before.
func (a *adoption) newPart(f Former) Place {
	for i := range a.doc.Parts {
		p := &a.doc.Parts[i]
		if fits(p, f) != "" && !a.added[p.ID] {
			continue // the words of its name spoke against it
		}
		if ratio, ok := p.made().join(p, f); ok && !a.taken[Place{p.ID, ratio}] {
			return Place{p.ID, ratio}
		}
	}
	var p Part
	for _, k := range kinds {
		p = Part{Name: f.Name, Kind: k.name}
		if k.get(&p).adopt(&p, f) {
			break
		}
	}
	p.ID = a.freeID(p.Kind)
	p = p.Blank()
	p.From = a.openEnd(&p)
	p.check("", &fault.Errors{}) // fills in what is usual
	a.doc.Parts = append(a.doc.Parts, p)
	a.added[p.ID] = true
	if ratio := fits(&p, f); ratio != "" {
		return Place{p.ID, ratio}
	}
	return Place{p.ID, p.Asks()[0].Ratio}
}

func (a *adoption) freeID(kind string) string {
	for n := 1; ; n++ {
		id := kind
		if n > 1 {
			id = fmt.Sprint(kind, "_", n)
		}
		if a.doc.Part(id) == nil {
			return id
		}
	}
}

// openEnd finds an output that feeds nothing yet: a case's front output for
// what is called front, else the last one that drives on. Where there is none,
// an inter-axle differential makes one ahead of the last part.
func (a *adoption) openEnd(p *Part) string {
	fed := map[string]bool{}
	for i := range a.doc.Parts {
		fed[a.doc.Parts[i].From] = true
	}
	end := ""
	front := strings.Contains(strings.ToLower(p.Name), "front")
	for i := range a.doc.Parts {
		q := &a.doc.Parts[i]
		for _, port := range q.Ports() {
			out := q.Output(port)
			side := port == "left" || port == "right"
			if fed[out] || side != p.Traits().Outboard || (port == "front") != front && port == "front" {
				continue
			}
			end = out
		}
	}
	if end != "" || len(a.doc.Parts) == 0 {
		return end
	}
	last := &a.doc.Parts[len(a.doc.Parts)-1]
	for last.From != "" && (last.Traits().End != "" || last.Traits().Outboard) {
		id, _, _ := strings.Cut(last.From, ".")
		last = a.doc.Part(id)
	}
	d := Part{ID: a.freeID("differential"), Kind: "differential", Name: "Between the two", From: last.From, Differential: &Differential{Type: "open"}}
	last.From = d.ID + ".here"
	a.doc.Parts = append(a.doc.Parts, d)
	return d.ID + ".through"
}
