// Command bundle joins the rooms of the contract into the one document that is
// served: go run ./bundle rooms/*.yaml > openapi.yaml. Rooms refer to each other's
// schemas as in the whole. With -joined it leaves out what every operation answers
// alike, which handlers don't.
package main

import (
	"flag"
	"fmt"
	"io"
	"log"
	"os"
	"slices"
	"strings"

	"go.yaml.in/yaml/v3"
)

func main() {
	log.SetFlags(0)
	joined := flag.Bool("joined", false, "without errors and security")
	flag.Parse()
	if err := join(os.Stdout, flag.Args(), !*joined); err != nil {
		log.Fatal(err)
	}
}

func join(w io.Writer, rooms []string, completed bool) error {
	var whole yaml.Node
	tags := yaml.Node{Kind: yaml.SequenceNode}
	for _, name := range rooms {
		b, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		var room yaml.Node
		if err := yaml.Unmarshal(b, &room); err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		if title := find(room.Content[0], "x-room"); title != nil {
			tag(room.Content[0], find(title, "name"))
			tags.Content = append(tags.Content, title)
		}
		if whole.IsZero() {
			whole = room
			continue
		}
		if err := add(whole.Content[0], room.Content[0], name); err != nil {
			return err
		}
	}
	if err := with(&whole); err != nil {
		return err
	}
	if completed {
		list(whole.Content[0], &tags)
		if err := complete(&whole); err != nil {
			return err
		}
	}
	if _, err := fmt.Fprintln(w, "# Made from rooms/ by go generate; change it there."); err != nil {
		return err
	}
	enc := yaml.NewEncoder(w)
	enc.SetIndent(2)
	if err := enc.Encode(&whole); err != nil {
		return err
	}
	return enc.Close()
}

// tag puts a room's operations under its name, and takes the name out of the room.
func tag(room, title *yaml.Node) {
	paths := find(room, "paths")
	for i := 1; paths != nil && i < len(paths.Content); i += 2 {
		for j := 1; j < len(paths.Content[i].Content); j += 2 {
			if op := paths.Content[i].Content[j]; find(op, "operationId") != nil {
				put(op, "tags", &yaml.Node{Kind: yaml.SequenceNode, Style: yaml.FlowStyle, Content: []*yaml.Node{title}})
			}
		}
	}
	for i := 0; i < len(room.Content); i += 2 {
		if room.Content[i].Value == "x-room" {
			room.Content = append(room.Content[:i], room.Content[i+2:]...)
			return
		}
	}
}

// list names the rooms, in alphabetical order as a linter likes it.
func list(whole, names *yaml.Node) {
	slices.SortFunc(names.Content, func(a, b *yaml.Node) int {
		return strings.Compare(find(a, "name").Value, find(b, "name").Value)
	})
	put(whole, "tags", names)
}

// with puts the properties of the schema that a schema names under x-with into it: a
// closed schema can't be put together by allOf.
func with(whole *yaml.Node) error {
	components := find(whole.Content[0], "components")
	if components == nil {
		return nil
	}
	schemas := find(components, "schemas")
	if schemas == nil {
		return nil
	}
	for i := 1; i < len(schemas.Content); i += 2 {
		named := find(schemas.Content[i], "x-with")
		if named == nil {
			continue
		}
		other := find(schemas, named.Value)
		if other == nil {
			return fmt.Errorf("%s: no schema %s", schemas.Content[i-1].Value, named.Value)
		}
		more := find(other, "properties")
		if err := add(find(schemas.Content[i], "properties"), more, schemas.Content[i-1].Value); err != nil {
			return err
		}
	}
	return nil
}

// complete says what holds for every operation: what signing in is needed for, by
// its x-may, and how errors are told.
func complete(whole *yaml.Node) error {
	var common yaml.Node
	if err := yaml.Unmarshal([]byte(`
anyone: []
others: [{ session: [] }]
problem: { $ref: "#/components/responses/Problem" }
`), &common); err != nil {
		return err
	}
	said := common.Content[0]
	paths := find(whole.Content[0], "paths")
	for i := 1; i < len(paths.Content); i += 2 {
		for j := 1; j < len(paths.Content[i].Content); j += 2 {
			op := paths.Content[i].Content[j]
			answers := find(op, "responses")
			if answers == nil { // what holds for a whole path
				continue
			}
			may := find(op, "x-may")
			if may == nil {
				return fmt.Errorf("nobody says who may %s", find(op, "operationId").Value)
			}
			security := find(said, "others")
			if may.Value == "anyone" {
				security = find(said, "anyone")
			}
			put(op, "security", security)
			put(answers, "4XX", find(said, "problem"))
			put(answers, "5XX", find(said, "problem"))
		}
	}
	return nil
}

func put(m *yaml.Node, key string, value *yaml.Node) {
	m.Content = append(m.Content, &yaml.Node{Kind: yaml.ScalarNode, Value: key}, value)
}

// sections are joined entry by entry; anything else may be said once only.
var sections = map[string]bool{"paths": true, "components": true, "schemas": true, "parameters": true, "responses": true}

func add(to, from *yaml.Node, path string) error {
	for i := 0; i < len(from.Content); i += 2 {
		key, value := from.Content[i], from.Content[i+1]
		was := find(to, key.Value)
		switch {
		case was == nil:
			to.Content = append(to.Content, key, value)
		case sections[key.Value]:
			if err := add(was, value, path+": "+key.Value); err != nil {
				return err
			}
		default:
			return fmt.Errorf("%s: %s stands in two rooms", path, key.Value)
		}
	}
	return nil
}

func find(m *yaml.Node, key string) *yaml.Node {
	for i := 0; i < len(m.Content); i += 2 {
		if m.Content[i].Value == key {
			return m.Content[i+1]
		}
	}
	return nil
}
