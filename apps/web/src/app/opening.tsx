/** While a project is on its way. */
export const Opening = () => <p className="p-8 text-ink-soft">Opening the project.</p>;
