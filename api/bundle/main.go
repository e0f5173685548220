// Command bundle joins the rooms of the contract into the one document that is
// served and generated from: go run ./bundle rooms/*.yaml > openapi.yaml.
// Rooms refer to each other's schemas as in the whole.
package main

import (
	"fmt"
	"io"
	"log"
	"os"

	"go.yaml.in/yaml/v3"
)

func main() {
	log.SetFlags(0)
	if err := join(os.Stdout, os.Args[1:]); err != nil {
		log.Fatal(err)
	}
}

func join(w io.Writer, rooms []string) error {
	var whole yaml.Node
	for _, name := range rooms {
		b, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		var room yaml.Node
		if err := yaml.Unmarshal(b, &room); err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		if whole.IsZero() {
			whole = room
			continue
		}
		if err := add(whole.Content[0], room.Content[0], name); err != nil {
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
