export const USAGE = `ruota COMMAND ... [--json]

  inspect FILE                     bodies, unit, volumes, boxes of a STEP, STL, OBJ, 3MF or GLB file
  propose FILE [--kind turning|boring|grooving|rotating|block|auto]
                                   kind, roles, mount, seats and tips as read from the model
  designation CODE                 what an ISO 1832, 5608 or 6261 designation says
  component SPEC.json | --text "WORDS" [--text ...] [--facts-only] [--out OUT.(step|stl|glb|3mf)]
                                   a tool or holder of data, from its numbers or from what stands on its box (docs/components.md):
                                   what follows from what is given, what was assumed and why, mount, seats, tips and bodies
  import TABLE.(csv|tsv) [--map MAP.json] [--kind KIND]
                                   the tools of a table: what its columns are, each row that can be made, and each that cannot with column
                                   and reason; a map says what columns are: { "Header": "DC" }
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
  assemble RECIPE.json --out DIR   joins components and writes the package
  verify PACKAGE.zip               the checks of a package, recomputed from its own files
  batch FOLDER --recipe R.json --out DIR [--jobs N]
                                   light geometry of every model in a folder, by a recipe (docs/recipe.md), on all processors;
                                   what is there already and still fits is left`;

export class UsageError extends Error {}
