// Package jobfacts carries what else is told when a job comes in from the contract to
// the table and back, without a line for each fact: a fact is a property of the
// contract's JobFacts, and stands in a job's column of that name as it was sent.
package jobfacts

import (
	"encoding/json"
	"fmt"
	"strings"
	"sync"

	"go.yaml.in/yaml/v3"

	"zorvel/api"
	"zorvel/internal/store"
)

// From returns the facts in v, which has the properties of JobFacts, as they are
// stored: an object of those that say something, its texts trimmed.
func From(v any) (json.RawMessage, error) {
	var facts api.JobFacts
	if err := over(v, &facts); err != nil {
		return nil, err
	}
	var said map[string]any
	if err := over(facts, &said); err != nil {
		return nil, err
	}
	for name, value := range said {
		text, ok := value.(string)
		if !ok {
			continue
		}
		if text = strings.TrimSpace(text); text == "" {
			delete(said, name)
		} else {
			said[name] = text
		}
	}
	return json.Marshal(said)
}

// Into puts a job's facts into v, which has the properties of JobFacts. Facts that
// can't be read are a *store.DamagedError.
func Into(v any, j store.Job) error {
	facts, err := of(j)
	if err != nil {
		return err
	}
	return over(facts, v)
}

// Told is a fact under its title.
type Told struct{ Title, Text string }

// List returns the facts of v, which has the properties of JobFacts, in the order of
// the contract.
func List(v any) ([]Told, error) {
	var facts api.JobFacts
	if err := over(v, &facts); err != nil {
		return nil, err
	}
	var said map[string]any
	if err := over(facts, &said); err != nil {
		return nil, err
	}
	titles, err := titles()
	var out []Told
	for _, t := range titles {
		if value, ok := said[t.name]; ok && value != "" {
			out = append(out, Told{t.title, fmt.Sprint(value)})
		}
	}
	return out, err
}

// ListOf is List of a stored job.
func ListOf(j store.Job) ([]Told, error) {
	facts, err := of(j)
	if err != nil {
		return nil, err
	}
	return List(facts)
}

func of(j store.Job) (api.JobFacts, error) {
	var facts api.JobFacts
	err := store.Read(fmt.Sprint("what was told of job ", j.ID), j.Facts, &facts)
	return facts, err
}

// over carries the properties that two values share from one to the other.
func over(from, to any) error {
	b, err := json.Marshal(from)
	if err != nil {
		return err
	}
	return json.Unmarshal(b, to)
}

type titled struct{ name, title string }

// titles are the contract's titles of the facts, in its order.
var titles = sync.OnceValues(func() ([]titled, error) {
	var spec struct {
		Components struct {
			Schemas struct {
				JobFacts struct{ Properties yaml.Node } `yaml:"JobFacts"`
			}
		}
	}
	if err := yaml.Unmarshal(api.Spec, &spec); err != nil {
		return nil, err
	}
	at := spec.Components.Schemas.JobFacts.Properties.Content
	var out []titled
	for i := 0; i < len(at); i += 2 {
		var p struct{ Title string }
		if err := at[i+1].Decode(&p); err != nil {
			return nil, err
		}
		out = append(out, titled{at[i].Value, p.Title})
	}
	return out, nil
})
