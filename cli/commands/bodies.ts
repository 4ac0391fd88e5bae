import { type Model, triangleCount } from '#core/mesh';

/** The bodies of a model, as every command tells them. */
export const tellBodies = (model: Model) =>
  model.bodies.map((b) => ({
    id: b.id,
    name: b.name,
    ...(b.colour ? { colour: b.colour } : {}),
    volume: b.volume,
    area: b.area,
    bbox: b.bbox,
    centroid: b.centroid,
    faces: b.faces.length,
    edges: b.edges.length,
    triangles: triangleCount(b.mesh),
    closed: b.closed,
  }));
