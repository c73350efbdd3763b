package lookout

import (
	"html"
	"html/template"

	"turret/internal/app/assess"
	"turret/internal/app/forecast"
	"turret/internal/app/gate"
	"turret/internal/app/lookout"
	"turret/internal/app/pipeline"
	"turret/internal/core/write"
	"turret/internal/web/page"
)

// fillAhead shows which projects are predicted at act, those first that are declared better.
func fillAhead(r *page.Request, _ *lookoutView, l *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	x.Href = r.To("/assess/outlook")
	f := page.ForesightOf(r)
	if f.Outlooks == nil {
		x.Empty = "It is being learned from the projects that are finished, and is here in a moment."
		return nil
	}
	out := f.Among(l.Open)
	x.Text = paragraph(out.Headline() + " " + forecast.LearnedSays(out.Learned))
	if out.Learned.Reason != "" {
		x.Text = paragraph(out.Headline())
	}
	list := out.Concerns()
	for i := range list {
		if i == mostInPanel {
			x.More = write.Count(len(list)-i, "more", "more")
			break
		}
		o := &list[i]
		mark := page.Foreseen(o, 13)
		x.Records = append(x.Records, recordRow{Mark: &mark, Title: o.Project.Code + " " + o.Project.Name,
			Href: r.To(page.ProjectPath(o.Project.Code) + "/outlook"), Of: "declared " + o.Declared.String(),
			OfHref: r.To("/assess/opinion"), Owner: o.Why(), Worth: o.Chance()})
	}
	return nil
}

// paragraph is a text as HTML.
func paragraph(text string) template.HTML {
	return template.HTML("<p>" + html.EscapeString(text) + "</p>") // it is escaped
}

// fillPipeline shows what waits at a gate, and the proposals that wait for a decision, the longest first.
func fillPipeline(r *page.Request, _ *lookoutView, _ *lookout.Lookout, _ *lookout.Panel, x *panelView) error {
	scope, err := r.Figures.Scope(r.Scope) // with what is proposed, which Lookout leaves out
	if err != nil {
		return err
	}
	p, err := pipeline.Read(r.Context(), r.Figures)
	if err != nil {
		return err
	}
	g, err := gate.Read(r.Context(), r.Figures)
	if err != nil {
		return err
	}
	x.Href = r.To("/pipeline/gates")
	for _, q := range gate.Of(scope) {
		for _, w := range g.Of[q.Code] {
			if w.Decision == "" {
				x.Records = append(x.Records, recordRow{Title: q.Code + " " + q.Name, Href: r.To(page.ProjectPath(q.Code) + "/gates"),
					Of: "gate of " + w.Stage, OfHref: r.To("/pipeline/gates"), Owner: w.AskedBy, Due: "since " + w.AskedOn.Human()})
			}
		}
	}
	x.Records = append(x.Records, proposals(r, p, scope)...)
	if n := len(x.Records); n > mostInPanel {
		x.Records, x.More = x.Records[:mostInPanel], write.Count(n-mostInPanel, "more", "more")
	}
	if len(x.Records) == 0 {
		x.Empty = "Nothing waits at a gate, and no proposal for a decision."
	}
	return nil
}

func proposals(r *page.Request, p *pipeline.Pipeline, s *assess.Scope) (list []recordRow) {
	for _, q := range pipeline.Waiting(r.Figures, p, s.Projects) {
		row := recordRow{Title: q.Code + " " + q.Name, Href: r.To(page.ProjectPath(q.Code) + "/proposal"), Of: "proposed",
			OfHref: r.To("/pipeline/proposals")}
		if d := p.Proposals[q.Code]; d != nil && d.AskedOn != 0 {
			row.Owner, row.Due = d.AskedBy, "since "+d.AskedOn.Human()
		}
		list = append(list, row)
	}
	return list
}
