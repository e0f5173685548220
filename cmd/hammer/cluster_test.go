package main

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"
)

// A node and a server die, and a node is cut off, while a few write: what was acknowledged
// is at every node, once. The whole of it is make hammer-cluster.
func TestClusterHolds(t *testing.T) {
	if testing.Short() {
		t.Skip("it takes most of a minute")
	}
	// The nodes run as an account of their own: a folder that it reaches.
	dir, err := os.MkdirTemp("/var/tmp", "zorvel-hammer-")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	if err := os.Chmod(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	bin := filepath.Join(t.TempDir(), "zorvel")
	if out, err := exec.CommandContext(t.Context(), "go", "build", "-o", bin, "../zorvel").CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	short := trial{clients: 6, rounds: 1, races: 3, each: time.Second, busy: true,
		only: []string{"node 1 killed", "node 2 cut off", "server 1 killed"}}
	if err := short.run(t.Context(), bin, dir); err != nil {
		t.Fatal(err)
	}
}
