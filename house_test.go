// The rules of the house: dependencies point one way, generated code is fresh.
package zorvel_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"go/ast"
	"go/parser"
	"go/token"
	"io"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"zorvel/core/driveline"
)

type pkg struct {
	ImportPath   string
	Standard     bool
	Imports      []string
	TestImports  []string
	XTestImports []string
}

func packages(t *testing.T) []pkg {
	t.Helper()
	out, err := exec.Command("go", "list", "-json=ImportPath,Standard,Imports,TestImports,XTestImports", "./...").Output()
	if err != nil {
		t.Fatal(err)
	}
	var list []pkg
	for dec := json.NewDecoder(bytes.NewReader(out)); ; {
		var p pkg
		if err := dec.Decode(&p); errors.Is(err, io.EOF) {
			return list
		} else if err != nil {
			t.Fatal(err)
		}
		list = append(list, p)
	}
}

// within reports whether path is at or below one of the places.
func within(path string, places ...string) bool {
	for _, p := range places {
		if path == p || strings.HasPrefix(path, p+"/") {
			return true
		}
	}
	return false
}

func TestDependenciesPointOneWay(t *testing.T) {
	// What each part of the house may import of the house.
	may := map[string][]string{
		"zorvel/core":                 {"zorvel/core"},
		"zorvel/api":                  {"zorvel/core"},
		"zorvel/web":                  {},
		"zorvel/internal/localdb":     {},
		"zorvel/internal/authority":   {},
		"zorvel/internal/install":     {},
		"zorvel/internal/doctor":      {"zorvel/internal/authority", "zorvel/internal/store"},
		"zorvel/internal/photo":       {},
		"zorvel/internal/sound":       {},
		"zorvel/internal/paper":       {"zorvel/api", "zorvel/core", "zorvel/internal/jobfacts"},
		"zorvel/internal/jobfacts":    {"zorvel/api", "zorvel/internal/store"},
		"zorvel/internal/problem":     {"zorvel/core", "zorvel/internal/store"},
		"zorvel/internal/httpd":       {"zorvel/core", "zorvel/internal/archive", "zorvel/internal/problem"},
		"zorvel/internal/store":       {"zorvel/core"},
		"zorvel/internal/programmer":  {"zorvel/internal/standin"},
		"zorvel/internal/lines":       {},
		"zorvel/internal/instruments": {"zorvel/core", "zorvel/internal/lines", "zorvel/internal/standin"},
		"zorvel/internal/sensors": {"zorvel/core", "zorvel/internal/guard", "zorvel/internal/lines",
			"zorvel/internal/standin", "zorvel/internal/store"},
		"zorvel/internal/archive": {},
		"zorvel/internal/guard":   {},
		"zorvel/internal/watch":   {"zorvel/internal/problem"},
		"zorvel/internal/keyed":   {"zorvel/api", "zorvel/internal/problem", "zorvel/internal/store"},
		"zorvel/internal/record":  {"zorvel/api", "zorvel/core", "zorvel/internal/problem", "zorvel/internal/store"},
		"zorvel/internal/signin":  {"zorvel/api", "zorvel/internal/problem", "zorvel/internal/store", "zorvel/internal/watch"},
		"zorvel/internal/door": {"zorvel/api", "zorvel/internal/httpd", "zorvel/internal/problem",
			"zorvel/internal/signin", "zorvel/internal/store"},
		"zorvel/internal/index": {"zorvel/api", "zorvel/core", "zorvel/internal/guard", "zorvel/internal/store"},
		// A room asks the core and the store, and of other rooms only those that it is
		// given; who asks, what is known and what is kept twice are told by those below.
		"zorvel/internal/rooms": {
			"zorvel/api", "zorvel/core", "zorvel/internal/rooms", "zorvel/internal/guard", "zorvel/internal/index",
			"zorvel/internal/instruments", "zorvel/internal/jobfacts",
			"zorvel/internal/keyed", "zorvel/internal/paper", "zorvel/internal/photo", "zorvel/internal/problem", "zorvel/internal/programmer",
			"zorvel/internal/record", "zorvel/internal/signin", "zorvel/internal/sound", "zorvel/internal/store",
		},
		"zorvel/internal/exchange": {
			"zorvel/api", "zorvel/core", "zorvel/internal/archive", "zorvel/internal/backup", "zorvel/internal/door",
			"zorvel/internal/index", "zorvel/internal/httpd", "zorvel/internal/jobfacts",
			"zorvel/internal/photo", "zorvel/internal/problem", "zorvel/internal/rooms", "zorvel/internal/signin", "zorvel/internal/sound",
			"zorvel/internal/store",
		},
		"zorvel/internal/server": {
			"zorvel/api", "zorvel/internal/door", "zorvel/internal/exchange", "zorvel/internal/guard", "zorvel/internal/httpd",
			"zorvel/internal/index",
			"zorvel/internal/instruments", "zorvel/internal/problem", "zorvel/internal/programmer", "zorvel/internal/record",
			"zorvel/internal/rooms", "zorvel/internal/sensors",
			"zorvel/internal/signin", "zorvel/internal/store", "zorvel/internal/watch",
		},
		"zorvel/internal/backup": {"zorvel/core", "zorvel/internal/store"},
		"zorvel/internal/demo": {"zorvel/api", "zorvel/core", "zorvel/internal/server", "zorvel/internal/signin", "zorvel/internal/store",
			"zorvel/internal/jobfacts", "zorvel/internal/photo", "zorvel/internal/sound"},
	}
	// Nobody may serve the core interface, database, files, clocks or logs.
	const forbidden = " net net/http database/sql os os/exec io/fs log log/slog embed "
	seen := 0
	for _, p := range packages(t) {
		for place, allowed := range may {
			if !within(p.ImportPath, place) {
				continue
			}
			seen++
			for _, i := range p.Imports {
				if within(i, "zorvel") && !within(i, allowed...) {
					t.Errorf("%s imports %s; it may import %v", p.ImportPath, i, allowed)
				}
			}
		}
		if !within(p.ImportPath, "zorvel/core") {
			continue
		}
		for _, i := range p.Imports {
			if strings.Contains(forbidden, " "+i+" ") {
				t.Errorf("%s imports %s", p.ImportPath, i)
			}
			if strings.Contains(i, ".") && !within(i, "gonum.org/v1/gonum") {
				t.Errorf("%s imports %s: the core uses the standard library and gonum only", p.ImportPath, i)
			}
		}
	}
	if seen < 7 {
		t.Fatalf("only %d packages were looked at", seen)
	}
}

// Times may be read from data; the hour may not be asked.
func TestTheCoreHasNoClock(t *testing.T) {
	err := filepath.WalkDir("core", func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		text, err := os.ReadFile(path)
		for _, no := range []string{"time.Now", "time.Since", "time.Sleep", "time.After", "time.Tick", "time.NewTimer", "time.Local"} {
			if bytes.Contains(text, []byte(no)) {
				t.Errorf("%s uses %s", path, no)
			}
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
}

func TestTestsUseTestingAlone(t *testing.T) {
	for _, p := range packages(t) {
		for _, i := range append(p.TestImports, p.XTestImports...) {
			for _, no := range []string{"testify", "gomega", "ginkgo", "go-cmp"} {
				if strings.Contains(i, no) {
					t.Errorf("%s tests with %s", p.ImportPath, i)
				}
			}
		}
	}
}

func TestGeneratedCodeIsFresh(t *testing.T) {
	dir := t.TempDir()
	// The generator writes where its configuration says; give it a copy.
	config, err := os.ReadFile("api/config.yaml")
	if err != nil {
		t.Fatal(err)
	}
	fresh := filepath.Join(dir, "api.gen.go")
	config = bytes.Replace(config, []byte("output: api.gen.go"), []byte("output: "+fresh), 1)
	if err := os.WriteFile(filepath.Join(dir, "config.yaml"), config, 0o600); err != nil {
		t.Fatal(err)
	}
	// What is generated from has no errors and no security, see the bundle.
	rooms, err := filepath.Glob("api/rooms/*.yaml")
	if err != nil {
		t.Fatal(err)
	}
	const first = "api/rooms/common.yaml"
	rooms = append([]string{"run", "./api/bundle", "-joined", first}, slices.DeleteFunc(rooms, func(r string) bool { return r == first })...)
	joined, err := exec.Command("go", rooms...).Output()
	if err != nil {
		t.Fatal(err)
	}
	contract := filepath.Join(dir, "joined.yaml")
	if err := os.WriteFile(contract, joined, 0o600); err != nil {
		t.Fatal(err)
	}
	generate := exec.Command("go", "tool", "oapi-codegen", "-config", filepath.Join(dir, "config.yaml"), contract)
	if out, err := generate.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	same(t, fresh, "api/api.gen.go")

	if _, err := os.Stat("web/node_modules/.bin/openapi-typescript"); err != nil {
		t.Fatal("web/node_modules is missing: run make web first")
	}
	types := filepath.Join(dir, "schema.d.ts")
	cmd := exec.Command("node_modules/.bin/openapi-typescript", "../api/openapi.yaml", "-o", types)
	cmd.Dir = "web"
	if out, err := cmd.CombinedOutput(); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	same(t, types, "web/src/api/schema.d.ts")
}

func same(t *testing.T, fresh, committed string) {
	t.Helper()
	a, err := os.ReadFile(fresh)
	if err != nil {
		t.Fatal(err)
	}
	b, err := os.ReadFile(committed)
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(a, b) {
		t.Errorf("%s is stale: run make generate", committed)
	}
}

// Every bench of the front end stands in the registry, and the rest of the
// application knows benches through it alone.
func TestBenchesAreRegistered(t *testing.T) {
	registry, err := os.ReadFile("web/src/benches/registry.ts")
	if err != nil {
		t.Fatal(err)
	}
	found, err := filepath.Glob("web/src/benches/*/bench.ts*")
	if err != nil || len(found) < 4 {
		t.Fatalf("%d benches, %v", len(found), err)
	}
	for _, f := range found {
		room := filepath.Base(filepath.Dir(f))
		if !bytes.Contains(registry, []byte(`from "./`+room+`/bench"`)) {
			t.Errorf("%s is no entry of the registry", room)
		}
	}
	key, keys := regexp.MustCompile(`\n    key: "(.)"`), map[string]string{"g": "the first page", "u": "the units"}
	for _, f := range found {
		text, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range key.FindAllSubmatch(text, -1) {
			if was := keys[string(m[1])]; was != "" {
				t.Errorf("the key %s leads to %s and to %s", m[1], was, f)
			}
			keys[string(m[1])] = f
		}
	}
	app, err := os.ReadFile("web/src/app/App.tsx")
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range found {
		if room := filepath.Base(filepath.Dir(f)); bytes.Contains(app, []byte("benches/"+room)) {
			t.Errorf("the application's frame knows the bench %s", room)
		}
	}
}

// Styles are taken component by component: each one in use has its own.
func TestStylesAreComplete(t *testing.T) {
	first, err := os.ReadFile("web/src/app/mantine.ts")
	if err != nil {
		t.Fatal(err)
	}
	later, err := os.ReadFile("web/src/app/laterStyles.ts")
	if err != nil {
		t.Fatal(err)
	}
	atOnce := loadedAtOnce(t, "web/src/main.tsx")
	const styles = "web/node_modules/@mantine/core/styles/"
	if _, err := os.Stat(styles); err != nil {
		t.Skip("the front end's packages aren't installed")
	}
	imports := regexp.MustCompile(`import \{([^}]*)\} from "@mantine/core"`)
	seen := 0
	err = filepath.WalkDir("web/src", func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".tsx") {
			return err
		}
		text, err := os.ReadFile(path)
		for _, m := range imports.FindAllSubmatch(text, -1) {
			for _, name := range strings.Split(string(m[1]), ",") {
				name = strings.TrimPrefix(strings.TrimSpace(name), "type ")
				if _, err := os.Stat(styles + name + ".css"); err != nil {
					continue // made of others, or no component
				}
				seen++
				style := []byte("/" + name + ".layer.css")
				if !bytes.Contains(first, style) && !bytes.Contains(later, style) {
					t.Errorf("%s uses %s, whose styles aren't taken", path, name)
				}
				if atOnce[path] && !bytes.Contains(first, style) {
					t.Errorf("%s is loaded at once and uses %s, whose styles come later", path, name)
				}
			}
		}
		return err
	})
	if err != nil || seen < 20 {
		t.Fatalf("%d components were looked at, %v", seen, err)
	}
}

// loadedAtOnce are the modules that are loaded with one, through whatever they import.
func loadedAtOnce(t *testing.T, from string) map[string]bool {
	t.Helper()
	imports := regexp.MustCompile(`(?m)^(?:import|export|\}) .*?from "(\.[^"]+)"`)
	seen := map[string]bool{}
	var walk func(path string)
	walk = func(path string) {
		if seen[path] {
			return
		}
		text, err := os.ReadFile(path)
		if err != nil {
			return // styles, or another ending
		}
		seen[path] = true
		for _, m := range imports.FindAllSubmatch(text, -1) {
			at := filepath.Join(filepath.Dir(path), string(m[1]))
			walk(at + ".ts")
			walk(at + ".tsx")
			walk(filepath.Join(at, "index.ts"))
		}
	}
	walk(from)
	if len(seen) < 20 {
		t.Fatalf("only %d modules are loaded at once", len(seen))
	}
	return seen
}

// A component's styles are a module beside it: every class that is asked for is
// there, and every class that is there is asked for.
func TestClassesOfModules(t *testing.T) {
	var (
		imported = regexp.MustCompile(`import (\w+) from "([^"]+\.module\.css)"`)
		comment  = regexp.MustCompile(`(?s)/\*.*?\*/`)
		global   = regexp.MustCompile(`:global\([^)]*\)`)
		body     = regexp.MustCompile(`\{[^{}]*\}`)
		class    = regexp.MustCompile(`\.([a-zA-Z_][\w-]*)`)
	)
	type module struct {
		defined, used map[string]bool
		computed      bool
	}
	modules := map[string]*module{}
	err := filepath.WalkDir("web/src", func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasPrefix(filepath.Ext(path), ".ts") {
			return err
		}
		text, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		for _, m := range imported.FindAllSubmatch(text, -1) {
			name, at := string(m[1]), filepath.Join(filepath.Dir(path), string(m[2]))
			x := modules[at]
			if x == nil {
				css, err := os.ReadFile(at)
				if err != nil {
					return err
				}
				x = &module{map[string]bool{}, map[string]bool{}, false}
				modules[at] = x
				css = body.ReplaceAll(global.ReplaceAll(comment.ReplaceAll(css, nil), nil), []byte(" "))
				for _, c := range class.FindAllSubmatch(css, -1) {
					x.defined[string(c[1])] = true
				}
			}
			asked := regexp.MustCompile(`\b` + name + `(?:\.(\w+)|\["([\w-]+)"\])`)
			for _, c := range asked.FindAllSubmatch(text, -1) {
				k := string(c[1]) + string(c[2])
				x.used[k] = true
				if !x.defined[k] {
					t.Errorf("%s asks for %s, which %s doesn't have", path, k, at)
				}
			}
			x.computed = x.computed || regexp.MustCompile(`\b`+name+`\[[^"]`).Match(text)
		}
		return nil
	})
	if err != nil || len(modules) < 20 {
		t.Fatalf("%d modules of styles, %v", len(modules), err)
	}
	for at, x := range modules {
		for c := range x.defined {
			if !x.used[c] && !x.computed {
				t.Errorf("%s: nothing has the class %s", at, c)
			}
		}
	}
}

// A kind of part is one file: nothing else in the model and in what reads it
// asks a part for its kind by name, be it in a comparison, a case or a list.
func TestKindsOfPartAreAskedForNowhereElse(t *testing.T) {
	kinds := driveline.PartKinds()
	own := regexp.MustCompile(`core/driveline/(part_[a-z_]+|kinds|layouts)\.go$`)
	named := func(e ast.Expr) (string, bool) {
		l, ok := e.(*ast.BasicLit)
		if !ok || l.Kind != token.STRING {
			return "", false
		}
		name, err := strconv.Unquote(l.Value)
		return name, err == nil && slices.Contains(kinds, name)
	}
	ofKind := func(e ast.Expr) bool {
		s, ok := e.(*ast.SelectorExpr)
		return ok && s.Sel.Name == "Kind"
	}
	files := 0
	err := filepath.WalkDir("core", func(path string, _ fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || own.MatchString(path) {
			return err
		}
		files++
		set := token.NewFileSet()
		f, err := parser.ParseFile(set, path, nil, 0)
		if err != nil {
			return err
		}
		bad := func(n ast.Node, name string) {
			t.Errorf("%s asks for the kind %q of a part", set.Position(n.Pos()), name)
		}
		ast.Inspect(f, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.BinaryExpr:
				for _, pair := range [][2]ast.Expr{{n.X, n.Y}, {n.Y, n.X}} {
					if name, ok := named(pair[1]); ok && ofKind(pair[0]) {
						bad(n, name)
					}
				}
			case *ast.SwitchStmt:
				if n.Tag == nil || !ofKind(n.Tag) {
					return true
				}
				for _, c := range n.Body.List {
					for _, e := range c.(*ast.CaseClause).List {
						if name, ok := named(e); ok {
							bad(e, name)
						}
					}
				}
			case *ast.CallExpr:
				if s, ok := n.Fun.(*ast.SelectorExpr); !ok || s.Sel.Name != "Contains" || len(n.Args) != 2 || !ofKind(n.Args[1]) {
					return true
				}
				if list, ok := n.Args[0].(*ast.CompositeLit); ok {
					for _, e := range list.Elts {
						if name, ok := named(e); ok {
							bad(e, name)
						}
					}
				}
			}
			return true
		})
		return nil
	})
	if err != nil || files < 150 {
		t.Fatalf("%d files were read, %v", files, err)
	}
}

// Every package of the core has an example that is its shortest specification.
func TestTheCoreHasExamples(t *testing.T) {
	for _, p := range packages(t) {
		if !within(p.ImportPath, "zorvel/core") || slices.Contains(p.Imports, "testing") {
			continue
		}
		found, err := filepath.Glob(strings.TrimPrefix(p.ImportPath, "zorvel/") + "/*_test.go")
		if err != nil {
			t.Fatal(err)
		}
		has := false
		for _, f := range found {
			text, err := os.ReadFile(f)
			if err != nil {
				t.Fatal(err)
			}
			has = has || bytes.Contains(text, []byte("func Example"))
		}
		if !has {
			t.Errorf("%s has no example", p.ImportPath)
		}
	}
}

// Some things are written in one place: whoever needs them takes them from there.
func TestOneOfEach(t *testing.T) {
	type rule struct {
		text  *regexp.Regexp
		under string
		home  string
	}
	rules := []rule{
		{regexp.MustCompile(`queryKey: \[`), "web/src", "web/src/api/keys.ts"},
		{regexp.MustCompile(`[(*/=] ?1\.609344`), "web/src", "web/src/format/numbers.ts"},
		{regexp.MustCompile(`1\.609344`), "core", "core/say/say.go"},
		{regexp.MustCompile(`byWords|Contains\(title`), "core/driveline", "core/driveline/adopt.go"},
	}
	for _, r := range rules {
		seen := false
		err := filepath.WalkDir(r.under, func(path string, d os.DirEntry, err error) error {
			if err != nil || d.IsDir() || strings.HasSuffix(path, "_test.go") || strings.HasSuffix(path, "schema.d.ts") {
				return err
			}
			text, err := os.ReadFile(path)
			if r.text.Match(text) {
				if seen = seen || path == r.home; path != r.home {
					t.Errorf("%s holds what belongs in %s", path, r.home)
				}
			}
			return err
		})
		if err != nil {
			t.Fatal(err)
		}
		if !seen && r.home != "web/src/api/keys.ts" {
			t.Errorf("%s holds nothing that %v finds", r.home, r.text)
		}
	}
}
