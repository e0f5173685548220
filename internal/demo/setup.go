package demo

import (
	"context"
	"fmt"
	"time"

	"zorvel/core/setup"
	"zorvel/core/workcard"
	"zorvel/internal/store"
)

// halfSetUp is the forwarder's rear axle with its new bevel set: apart twice,
// the depth nearly right, the ring still too far away.
func (l *line) halfSetUp(by string, figures []setup.Figure) *line {
	q := setup.Axle{
		Family: "Tornock", Part: "rear", Unit: "mm", Ring: 32, Pinion: 20, RingSide: "left", PinionThicker: "in", Bearings: "new", Spacing: "shims", SealDrag: "", RepeatMM: 0.005, Most: 4,
		Figures: figures, Box: "0.05 x6, 0.08 x4, 0.10 x6, 0.15 x4, 0.20 x4, 0.30 x4, 0.50 x4, 1.00 x2",
		Trials: []setup.Made{
			{Pinion: "1.00 + 0.20", Left: "0.80 + 0.30", Right: "0.80 + 0.25", Spacer: "2.50", PinionTorque: "18 N at 75 mm", Backlash: "0.41 0.42 0.44 0.44 0.43 0.41 0.40 0.40",
				Drive: &setup.Spot{Height: 0.72, Length: 0.35}, Coast: &setup.Spot{Height: 0.68, Length: -0.1}},
			{Pinion: "1.00 + 0.30 + 0.05", Left: "1.00 + 0.20", Right: "0.80 + 0.15", Spacer: "2.44", PinionTorque: "29 N at 75 mm", TotalTorque: "3.1 N·m", Backlash: "0.32 0.33 0.35 0.35 0.34 0.32 0.31 0.31",
				Drive: &setup.Spot{Height: 0.2, Length: 0.1}, Coast: &setup.Spot{Height: 0.1, Length: -0.15}},
		},
	}
	question := setup.Question{Axle: &q}
	for n := range q.Trials {
		all := q.Trials
		q.Trials = all[:n+1]
		a, err := setup.Work(question)
		if err != nil {
			panic(err)
		}
		l.record("setup", by, a.Title(), question, a)
		q.Trials = all
		l.when = l.when.Add(2 * time.Hour)
	}
	return l
}

// tornockFigures are the invented maker's, as they stand in the shop's list.
func tornockFigures() []setup.Figure {
	band := func(figure string, low, high float64, unit, page string) setup.Figure {
		f := setup.Figure{Figure: figure, High: &high, Unit: unit, Source: "Tornock workshop book, " + page, Date: "third edition"}
		if low > 0 {
			f.Low = &low
		}
		return f
	}
	return []setup.Figure{
		band(setup.FigureBacklash, 0.2, 0.3, "mm", "page 41"), band(setup.FigureDifference, 0, 0.07, "mm", "page 41"),
		band(setup.FigurePinionNew, 1.6, 2.6, "N·m", "page 38"), band(setup.FigurePinionUsed, 0.8, 1.3, "N·m", "page 38"),
		band(setup.FigureTotalNew, 2.4, 3.8, "N·m", "page 40"), band(setup.FigureBackFace, 0, 0.05, "mm", "page 41"), band(setup.FigureSidePlay, 0.1, 0.25, "mm", "page 44"),
	}
}

// cardFinished is a card as it was closed: every step done, the holds seen by
// another.
func (l *line) cardFinished(id, by, second string, answers map[string]bool, notes map[string][2]string) *line {
	var card workcard.Card
	for _, c := range workcard.Cards() {
		if c.ID == id {
			card = c
		}
	}
	r := workcard.Run{Card: card, Answers: []workcard.Answer{}, Part: "gearcase"}
	for _, x := range card.Conditions {
		r.Answers = append(r.Answers, workcard.Answer{Condition: x.ID, Yes: answers[x.ID]})
	}
	for _, s := range card.Applies(r.Answers) {
		l.when = l.when.Add(time.Duration(s.Minutes) * time.Minute)
		e := workcard.Entry{Kind: workcard.Checked, Step: s.ID, By: by, At: l.when, Figure: notes[s.ID][0], Note: notes[s.ID][1]}
		if s.Off != "" && e.Note == "" {
			e.Note = "as usual"
		}
		if s.Figure != "" && e.Figure == "" {
			e.Figure = "by the manual"
		}
		r.Entries = append(r.Entries, e)
		if s.Hold {
			r.Entries = append(r.Entries, workcard.Entry{Kind: workcard.Seen, Step: s.ID, By: second, At: l.when.Add(2 * time.Minute)})
		}
	}
	for _, w := range workcard.Sum(r, nil).Back {
		r.Entries = append(r.Entries, workcard.Entry{Kind: workcard.Back, Step: w.Step, By: by, At: l.when})
	}
	sheet := workcard.Sum(r, nil)
	if !sheet.Ready {
		panic(fmt.Sprint("the demo's card is not done: ", sheet.Missing))
	}
	return l.record("card", by, sheet.Title, r, sheet)
}

// openCards begins what lies open in the shop.
func openCards(ctx context.Context, st *store.Store) error {
	list, _, err := st.Units(ctx, store.Asked{Name: "Birk"})
	if err != nil || len(list) == 0 {
		return fmt.Errorf("the forwarder is not there: %w", err)
	}
	var card workcard.Card
	for _, c := range workcard.Cards() {
		if c.ID == "pinion_stack" {
			card = c
		}
	}
	id, err := st.BeginCardRun(ctx, store.CardRun{UnitID: list[0].ID, By: ivar, Run: workcard.Run{Card: card, Part: "rear", Answers: []workcard.Answer{{Condition: "crush"}, {Condition: "ledge", Yes: true}, {Condition: "rigid"}}}})
	if err != nil {
		return err
	}
	for i, e := range []workcard.Entry{
		{Step: "marks", Figure: "old +2, new +5, hundredths, farther out"}, {Step: "caps", Note: "left 1.10, right 1.05; caps punched one and two dots"},
		{Step: "nut", Note: "flange marked white; new nut"}, {Step: "stack_order",
			Note: "laid out on the board, photographed", Figure: "depth 1.20, spacer 2.50"},
		{Step: "cups"}, {Step: "depth"}, {Step: "preload", Figure: "1.6 to 2.6 N·m"},
	} {
		e.Kind, e.By = workcard.Checked, ivar
		if err := st.EnterCardRun(ctx, id, fmt.Sprint("demo-card-", i), "", e, func(r store.CardRun) error { return workcard.Take(r.Run, nil, e) }); err != nil {
			return err
		}
	}
	return nil
}
