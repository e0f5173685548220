package bench

import (
	"slices"

	"zorvel/core/fault"
	"zorvel/core/identify"
)

// Echo is what was understood of words.
type Echo struct {
	Sentence string          `json:"sentence"`
	Choices  []Choice        `json:"choices"` // where it can be understood in several ways
	Shaft    *identify.Shaft `json:"shaft,omitempty"`
}

// Choice is one way to understand words, and words that mean just that.
type Choice struct {
	Sentence string `json:"sentence"`
	Text     string `json:"text"`
}

// Words are what somebody said or read.
type Words struct {
	Text  string         `json:"text"`
	As    string         `json:"as"` // mark, shaft or talk
	Stage identify.Stage `json:"stage"`
}

// Understand says words back.
func Understand(w Words) (*Echo, error) {
	e, err := identify.Understand(w.Text, identify.Phrase(w.As), w.Stage)
	if err != nil {
		return nil, err
	}
	out := &Echo{Sentence: e.Sentence, Choices: []Choice{}, Shaft: e.Shaft}
	for _, c := range e.Choices {
		out.Choices = append(out.Choices, Choice{Sentence: c.Sentence, Text: c.Text})
	}
	return out, nil
}

// Knowledge is what verdicts rest on.
type Knowledge struct {
	Stages []Stage          `json:"stages"`
	Models []identify.Model `json:"models"`
}

// Stage is what is known of a kind of stage.
type Stage struct {
	Kind          identify.Kind              `json:"kind"`
	Positions     []string                   `json:"positions"`
	Constructions []Construction             `json:"constructions"`
	TwoWheels     bool                       `json:"two_wheels"` // has a differential and two wheels
	Situations    []identify.SituationChoice `json:"situations"`
}

// Construction is a way in which a stage may be made.
type Construction struct {
	Position string  `json:"position"`
	ID       string  `json:"id"`
	Words    string  `json:"words"`
	Formula  string  `json:"formula"`
	Teeth    []Tooth `json:"teeth"`
}

// Tooth is a count of a construction and its usual bounds.
type Tooth struct {
	Member string `json:"member"`
	Words  string `json:"words"`
	Min    int    `json:"min"`
	Max    int    `json:"max"`
}

// Positions lists the ratios that a kind of stage is asked for; free text for a
// gearbox.
func Positions(kind identify.Kind) []string {
	switch kind {
	case identify.TransferCase:
		return []string{"high", "low", "front"}
	case identify.Gearbox:
		return []string{"1", "2", "3", "4", "5", "6", "R"}
	}
	return []string{""}
}

// Check refuses a stage that can't be asked about; fields are its own ("position").
func Check(st identify.Stage) error {
	if _, err := st.Constructions(); err != nil {
		return fault.Within("stage", err)
	}
	if st.Kind == identify.Planetary || st.Held != "" || st.Input != "" {
		if _, err := identify.NewSpace(identify.Stage{Kind: identify.Planetary, Held: st.Held, Input: st.Input}); err != nil {
			return fault.Within("stage", err)
		}
	}
	switch p := Positions(st.Kind); {
	case len(p) == 1 && st.Position != "":
		return fault.New("position", "this kind of stage has one ratio only; leave the position empty")
	case st.Kind == identify.TransferCase && !slices.Contains(p, st.Position):
		return fault.New("position", "high, low or front")
	}
	return nil
}

// Know tells what verdicts rest on.
func Know() (*Knowledge, error) {
	out := &Knowledge{Stages: []Stage{}, Models: identify.Models()}
	for _, kind := range identify.Kinds() {
		k := Stage{Kind: kind, Positions: Positions(kind), Situations: kind.Situations(), Constructions: []Construction{}, TwoWheels: kind == identify.RingAndPinion || kind == identify.TwoStage}
		for _, pos := range k.Positions {
			st := identify.Stage{Kind: kind, Position: pos}
			cons, err := st.Constructions()
			if err != nil {
				return nil, err
			}
			for _, c := range cons {
				x := Construction{Position: pos, ID: c.ID, Words: c.Words, Formula: c.Formula(st), Teeth: []Tooth{}}
				for _, t := range c.Teeth {
					x.Teeth = append(x.Teeth, Tooth{Member: t.Name, Words: t.Words, Min: t.Min, Max: t.Max})
				}
				k.Constructions = append(k.Constructions, x)
			}
		}
		if len(k.Positions) == 1 && k.Positions[0] == "" {
			k.Positions = []string{}
		}
		out.Stages = append(out.Stages, k)
	}
	return out, nil
}
