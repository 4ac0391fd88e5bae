export const USAGE = `ruota COMMAND ... [--json]

  inspect FILE                     bodies, unit, volumes, boxes of a STEP, STL, OBJ, 3MF or GLB file; here and with propose and envelope
                                   one in a zip or gzip file too: ARCHIVE.zip, or ARCHIVE.zip/NAME where there are several
  propose FILE [--kind turning|boring|grooving|rotating|block|auto]
                                   kind, roles, mount, seats and tips as read from the model
  designation CODE ...             what designations of ISO 1832, 5608, 6261 or the inch series say, field by field;
                                   a wrong one is told at its character
  component SPEC.json | --text "WORDS" [--text ...] [--facts-only] [--out OUT.(step|stl|glb|3mf)]
                                   a tool or holder of data, from its numbers or from what stands on its box (docs/components.md):
                                   what follows from what is given, what was assumed and why, mount, seats, tips and bodies
  import TABLE.(csv|tsv) [--map MAP.json] [--kind KIND] [--out SHELF.zip]
                                   the tools of a table: what its columns are, each row that can be made, and each that cannot with column
                                   and reason; a map says what columns are: { "Header": "DC" };
                                   --out writes the good rows as a Shelf’s file
  shelf SHELF.zip [--where EXPRESSION] [--merge OTHER.zip] [--out OUT.(zip|csv)]
                                   what a Shelf’s file holds (docs/shelf.md), or what of it matches: kind=cutter DC>=8 mount="cylindrical 10";
                                   what merging another one would change; --out writes what was found or merged
  envelope FILE --mode revolved|plan|wrap|exact|auto --tolerance T [--axis ox,oy,oz,dx,dy,dz] [--bodies ID,ID]
           [--triangles N] [--close W] [--bores closed|open|work|machine] [--bridge W] --out OUT.(stl|glb|3mf|step)
                                   light geometry that is never too small; a wrap closes openings up to W mm and stops at N triangles;
                                   a revolved envelope keeps bores over W mm that open to the work, to the machine or to both,
                                   and fills gaps of its outside up to the width of --bridge;
                                   a plan is seen along Y of the mount that is read, or of the axis given
  outline FILE.(dxf|svg|png|jpg|json) [--layers A,B] [--form revolved|flat] [--unit mm|inch] [--tolerance T] [--bridge W] [--flip]
           [--scale x1,y1,x2,y2,MM] [--thickness S] [--relief DEG] [--out OUT.(step|stl|glb|3mf|dxf|svg|json)]
                                   the outline of a drawing: its layers, axis, tip, half section, and each step that led there;
                                   curves are fitted by lines and arcs within T mm, gaps up to W mm are bridged, --flip
                                   takes the other end for the tip; a picture is traced, calibrated by
                                   two points in pixels from its upper left corner and the distance between them;
                                   a flat one becomes a solid by its thickness and the clearance of its flanks (0);
                                   of an outline’s JSON its numbers, and what they contradict
  assemble RECIPE.json [--swap PIECE=COMPONENT ...] [--find FROM..TO] [--force N] --out DIR
                                   joins components and writes the package: gauge length, edges, mass, unbalance, overhang, what gives way
                                   under a force at the tip (100 N), how pieces sit and what goes through each other; --swap puts another
                                   component of the recipe in the place of a piece; --find looks for chains from a piece’s free seats or from
                                   a connection as "cylindrical 32" to a component, through those of the recipe
  setup SETUP.json|PACKAGE.zip [--out PACKAGE.zip]
                                   what stands where on a machine (docs/set-up.md): of each edge tip orientation, sense, feeds and place for its
                                   control, reach, angles of swivel heads, geometry of slides, room of the neighbours, checks; --out writes
                                   the package of the set-up with all its tools (docs/package.md)
  reach TRIAL.json|PACKAGE.zip [--trial NAME]
                                   which stretches of a contour each loaded edge can cut, why not elsewhere, and what stays (docs/trial.md)
  trial TRIAL.json|PACKAGE.zip [--trial NAME] [--program FILE] [--out FILE.nc]
                                   a program run against a set-up (docs/trial.md): the part that comes out, the time it takes, what
                                   touches, gouges or cuts the wrong way, and how the part differs from its contour
  verify PACKAGE.zip               the checks of a package, recomputed from its own files
  batch FOLDER --recipe R.json --out DIR [--jobs N]
                                   light geometry of every model in a folder, by a recipe (docs/recipe.md), on all processors;
                                   what is there already and still fits is left`;

export class UsageError extends Error {}
