package findfault

import (
	"context"
	"errors"
	"testing"

	"zorvel/core/driveline/breaks"
)

// Who went away isn't worked for: the answer ends wherever it is then.
func TestFindStopsWithItsContext(t *testing.T) {
	q := Question{
		Driveline: layout(t, "rear_drive"),
		Evidence:  []Evidence{vehicle(breaks.Stays), seen("look_shaft", "prop", No)},
	}
	whole := &counted{Context: t.Context()}
	if _, err := Find(whole, q); err != nil {
		t.Fatal(err)
	}
	if whole.asked < 10 {
		t.Fatalf("asked %d times whether anyone still waits", whole.asked)
	}
	for after := range whole.asked {
		c := &counted{Context: t.Context(), most: after + 1}
		if a, err := Find(c, q); !errors.Is(err, context.Canceled) || a != nil {
			t.Fatalf("gone at question %d of %d: %v, %v", after+1, whole.asked, a, err)
		}
		if c.asked != after+1 {
			t.Fatalf("gone at question %d, asked %d times", after+1, c.asked)
		}
	}
}

// counted is a context that ends when it was asked often enough.
type counted struct {
	context.Context
	asked, most int
}

func (c *counted) Err() error {
	if c.asked++; c.most > 0 && c.asked >= c.most {
		return context.Canceled
	}
	return nil
}
