export const COPY_STYLE = `
@page { size: A4; margin: 25mm 22mm 22mm }
@page :first { @top-center { content: none } }
@page { @top-center { font: italic 9pt Georgia, serif; color: #555 } @bottom-center { font: 9pt Georgia, serif; color: #555 } }
html { font: 11pt/1.45 Georgia, 'Times New Roman', serif; color: #1d1a16; background: #fff }
body { max-width: 40rem; margin: 2rem auto; padding: 0 1rem }
header { text-align: center; margin: 4rem 0 3rem }
h1 { font-size: 1.8rem; margin: 0 0 .4rem }
h2 { font-size: 1.3rem; margin: 2.4rem 0 .6rem; break-before: page; break-after: avoid }
main > h2:first-child { break-before: auto }
h3 { font-size: 1.05rem; margin: 1.4rem 0 .4rem; padding-top: .4rem; border-top: 1px solid #bbb; break-after: avoid }
p { margin: .35rem 0; orphans: 2; widows: 2 }
.part, .date { font-style: italic; color: #555 }
.line { padding-inline-start: 1.2rem; text-indent: -1.2rem; break-inside: avoid }
.who { font-variant: small-caps; letter-spacing: .03em; margin-inline-end: .5em; font-weight: 600 }
.who::after { content: ' ' }
.action > span:not(.aside), .thought > span:not(.aside), .notes { font-style: italic }
.d1 { margin-inline-start: 1.5rem } .d2 { margin-inline-start: 3rem }
.aside, .remark, .notes { font: 9pt/1.3 'Source Sans 3', 'Helvetica Neue', Arial, sans-serif; color: #555 }
.aside { margin-inline-start: .6em; text-indent: 0 } .aside::before { content: '(' } .aside::after { content: ')' }
.choice { margin-inline-start: 2rem; break-inside: avoid } .choice::before { content: '\\2013\\00a0' }
.took { font-style: italic; margin: .8rem 0 .8rem 2rem }
.to { margin-inline-start: .6em } .to::before { content: '\\2192\\00a0' } .to a { color: inherit }
.ending { text-align: center; font-variant: small-caps; letter-spacing: .08em; margin: 1.2rem 0 }
@media print { body { max-width: none; margin: 0; padding: 0 } a { text-decoration: none } header { margin: 40mm 0 0 } main { break-before: page } }
`
