package page

import (
	"embed"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"path"
	"strings"
)

// views are the templates by page, each parsed with the layout and the parts; they are ready before the first request.
type views map[string]*template.Template

// functions are what templates can call: dict gathers names and values for a part that needs several.
var functions = template.FuncMap{"dict": func(pairs ...any) map[string]any {
	m := map[string]any{}
	for i := 0; i+1 < len(pairs); i += 2 {
		m[fmt.Sprint(pairs[i])] = pairs[i+1]
	}
	return m
}}

//go:embed templates/*.html
var templates embed.FS

// parse makes the views of this package: the layout, the parts, and the page that says what went wrong.
func parse() views {
	v := views{}
	v.add(templates)
	return v
}

// add reads the pages of a section. The layout and the parts, whose names begin with an underscore, go with every page; parts of a
// section go with its own.
func (v views) add(files fs.FS) {
	base := template.Must(template.New("layout.html").Funcs(functions).ParseFS(templates, "templates/layout.html", "templates/_*.html"))
	names, _ := fs.Glob(files, "templates/*.html")
	var pages, parts []string
	for _, n := range names {
		switch name := path.Base(n); {
		case strings.HasPrefix(name, "_"):
			parts = append(parts, n)
		case name != "layout.html":
			pages = append(pages, n)
		}
	}
	for _, p := range pages {
		v[strings.TrimSuffix(path.Base(p), ".html")] = template.Must(template.Must(base.Clone()).ParseFS(files, append(parts, p)...))
	}
}

// Load has nothing left to do; it is there for Fiber.
func (v views) Load() error { return nil }

// Render executes a page whole, or the part of it named after a colon, such as "lookout:margin".
func (v views) Render(w io.Writer, name string, data any, _ ...string) error {
	html, part, ok := strings.Cut(name, ":")
	if !ok {
		part = "layout"
	}
	return v[html].ExecuteTemplate(w, part, data)
}
