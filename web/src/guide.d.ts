declare module 'virtual:guide' {
  const pages: { id: string; title: string; html: string }[];
  export default pages;
}
