package page

import (
	"embed"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"path"
	"regexp"
	"strings"

	"turret/internal/core/write"
)

// views are the templates by page, each parsed with the layout and the parts; they are ready before the first request.
type views map[string]*template.Template

// functions are what templates can call: dict gathers names and values for a part that needs several,
// unbroken keeps codes and figures of a sentence on one line.
var functions = template.FuncMap{"dict": func(pairs ...any) map[string]any {
	m := map[string]any{}
	for i := 0; i+1 < len(pairs); i += 2 {
		m[fmt.Sprint(pairs[i])] = pairs[i+1]
	}
	return m
}, "count": write.Count[int], "symbols": symbols, "unbroken": unbroken}

//go:embed templates/*.html
var templates embed.FS

// parse makes the views of this package: the layout, the parts, and the page that says what went wrong.
func parse() views {
	v := views{}
	v.add(templates)
	return v
}

// add reads the pages of a section. The layout and the parts, whose names begin with an underscore, go with every page; parts of a
// section go with its own. A template that cannot be read is a fault of the build.
func (v views) add(files fs.FS) {
	base := read(template.New("layout.html").Funcs(functions), templates, "templates/layout.html", "templates/_*.html")
	names, _ := fs.Glob(files, "templates/*.html")
	for _, n := range names {
		if name := path.Base(n); !strings.HasPrefix(name, "_") && name != "layout.html" {
			v[strings.TrimSuffix(name, ".html")] = read(template.Must(base.Clone()), files, "templates/_*.html", n)
		}
	}
}

// read adds files to a template, each under its own name.
func read(t *template.Template, files fs.FS, patterns ...string) *template.Template {
	for _, pattern := range patterns {
		names, _ := fs.Glob(files, pattern)
		for _, n := range names {
			b, err := fs.ReadFile(files, n)
			if err != nil {
				panic(err)
			}
			x := t
			if name := path.Base(n); name != t.Name() {
				x = t.New(name)
			}
			template.Must(x.Parse(folded(string(b))))
		}
	}
	return t
}

var (
	beside = regexp.MustCompile(`(>|\}\})\s*\n\s*|\s*\n\s*(<|\{\{)`)
	breaks = regexp.MustCompile(`\s*\n\s*`)
)

// folded takes out of a template's source what is there for the eye only: a line break beside a tag or an action is nothing, and any other
// is a space. A space that stands where the source breaks the line is written &#32;.
func folded(src string) string {
	src = breaks.ReplaceAllString(beside.ReplaceAllString(strings.TrimSpace(src), "$1$2"), " ")
	return strings.ReplaceAll(src, "&#32;", " ")
}

// Load has nothing left to do; it is there for Fiber.
func (v views) Load() error { return nil }

// Render executes a page whole, or the part of it named after a colon, such as "lookout:margin".
func (v views) Render(w io.Writer, name string, data any, _ ...string) error {
	html, part, ok := strings.Cut(name, ":")
	if !ok {
		part = "layout"
	}
	t := v[html]
	if t == nil {
		return fmt.Errorf("no page is called %q", html)
	}
	return t.ExecuteTemplate(w, part, data)
}
