/** Who has this cookie gets the models that the application compiles its code with before a first file comes (serve.ts). */
export const WARM_UP_COOKIE = 'warm-up';
export const WARM_UP_MODELS = /\/assets\/(grooving-4|cutter-3)-[^/]*\.step$/;
