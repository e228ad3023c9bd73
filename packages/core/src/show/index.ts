export { onShow, rimOnShow, type ShowFaces, type ShownBody, showFaces, shownTriangles } from './show-faces.ts';
