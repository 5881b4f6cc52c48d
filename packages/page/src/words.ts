const ENGLISH = {
  begin: 'Begin',
  goOn: 'Go on',
  anew: 'Start anew',
  anewSure: 'Start anew? Where you are now will be forgotten.',
  cancel: 'Cancel',
  journal: 'Journal',
  noJournal: 'Nothing is noted yet.',
  bag: 'Bag',
  noBag: 'You carry nothing.',
  menu: 'Settings',
  close: 'Close',
  size: 'Text size',
  smaller: 'Smaller',
  larger: 'Larger',
  language: 'Language',
  light: 'Light or dark',
  auto: 'As the device',
  day: 'Light',
  night: 'Dark',
  credits: 'Credits',
  answer: 'Answer',
  say: 'Say it',
  empty: 'Write a word first.',
  theEnd: 'The end',
  stuck: 'The story does not go on from here.',
  endless: 'The story goes round by itself from here.',
  nowhere: 'This story has no beginning yet.',
  closed: 'closed',
  needs: 'needs',
  once: 'only once',
  moved: 'The story was changed since you were here. You go on from a place that is still there.',
  newer: 'The story was changed since you were here.',
  unread: 'Where you were could not be read again, so the story begins anew.',
  damaged: 'This file is damaged: the story in it can not be read. Ask for it again.',
  story: 'The story so far',
  choices: 'What will you do?',
  record: 'Keep a record of how I play, which I can give to the author. Nothing is sent anywhere.',
  saveRecord: 'Save the record…',
  success: 'done',
  failure: 'failed',
  text: 'Text',
}

export type Words = typeof ENGLISH

const OTHERS: Readonly<Record<string, Words>> = {
  de: {
    begin: 'Beginnen',
    goOn: 'Weiterspielen',
    anew: 'Neu beginnen',
    anewSure: 'Neu beginnen? Wo du jetzt bist, wird vergessen.',
    cancel: 'Abbrechen',
    journal: 'Tagebuch',
    noJournal: 'Noch ist nichts notiert.',
    bag: 'Tasche',
    noBag: 'Du trägst nichts bei dir.',
    menu: 'Einstellungen',
    close: 'Schließen',
    size: 'Schriftgröße',
    smaller: 'Kleiner',
    larger: 'Größer',
    language: 'Sprache',
    light: 'Hell oder dunkel',
    auto: 'Wie das Gerät',
    day: 'Hell',
    night: 'Dunkel',
    credits: 'Mitwirkende',
    answer: 'Antwort',
    say: 'Sagen',
    empty: 'Schreibe erst ein Wort.',
    theEnd: 'Ende',
    stuck: 'Von hier geht die Geschichte nicht weiter.',
    endless: 'Von hier dreht sich die Geschichte im Kreis.',
    nowhere: 'Diese Geschichte hat noch keinen Anfang.',
    closed: 'verschlossen',
    needs: 'braucht',
    once: 'nur einmal',
    moved: 'Die Geschichte wurde geändert, seit du hier warst. Du gehst von einem Ort weiter, den es noch gibt.',
    newer: 'Die Geschichte wurde geändert, seit du hier warst.',
    unread: 'Wo du warst, konnte nicht gelesen werden; die Geschichte beginnt neu.',
    damaged:
      'Diese Datei ist beschädigt: Die Geschichte darin kann nicht gelesen werden. Bitte fordere sie noch einmal an.',
    story: 'Die Geschichte bisher',
    choices: 'Was tust du?',
    record: 'Festhalten, wie ich spiele, damit ich es den Schreibenden geben kann. Nichts wird irgendwohin gesendet.',
    saveRecord: 'Aufzeichnung sichern …',
    success: 'geschafft',
    failure: 'gescheitert',
    text: 'Text',
  },
  fr: {
    begin: 'Commencer',
    goOn: 'Continuer',
    anew: 'Recommencer',
    anewSure: 'Recommencer ? L’endroit où vous êtes sera oublié.',
    cancel: 'Annuler',
    journal: 'Journal',
    noJournal: 'Rien n’est encore noté.',
    bag: 'Sac',
    noBag: 'Vous ne portez rien.',
    menu: 'Réglages',
    close: 'Fermer',
    size: 'Taille du texte',
    smaller: 'Plus petit',
    larger: 'Plus grand',
    language: 'Langue',
    light: 'Clair ou sombre',
    auto: 'Comme l’appareil',
    day: 'Clair',
    night: 'Sombre',
    credits: 'Crédits',
    answer: 'Réponse',
    say: 'Dire',
    empty: 'Écrivez d’abord un mot.',
    theEnd: 'Fin',
    stuck: 'L’histoire ne va pas plus loin.',
    endless: 'L’histoire tourne en rond.',
    nowhere: 'Cette histoire n’a pas encore de début.',
    closed: 'fermé',
    needs: 'il faut',
    once: 'une seule fois',
    moved: 'L’histoire a changé depuis votre passage. Vous reprenez à un endroit qui existe encore.',
    newer: 'L’histoire a changé depuis votre passage.',
    unread: 'L’endroit où vous étiez n’a pas pu être relu ; l’histoire recommence.',
    damaged: 'Ce fichier est abîmé : l’histoire ne peut pas être lue. Demandez-le à nouveau.',
    story: 'L’histoire jusqu’ici',
    choices: 'Que faites-vous ?',
    record: 'Garder une trace de ma partie, que je pourrai donner à l’auteur. Rien n’est envoyé.',
    saveRecord: 'Enregistrer la trace…',
    success: 'accompli',
    failure: 'échoué',
    text: 'Texte',
  },
}

/** The page's own words in a story's language; English where it has no others. */
export function wordsFor(language: string): Words {
  return OTHERS[language.split('-')[0]!] ?? ENGLISH
}

const RIGHT_TO_LEFT = ['ar', 'arc', 'ckb', 'dv', 'fa', 'he', 'ks', 'ps', 'sd', 'syr', 'ug', 'ur', 'yi']

export function directionOf(language: string): 'ltr' | 'rtl' {
  const [first, second] = language.split('-')
  if (second !== undefined && second.length === 4)
    return ['Arab', 'Hebr', 'Syrc', 'Thaa'].includes(second) ? 'rtl' : 'ltr'
  return RIGHT_TO_LEFT.includes(first!) ? 'rtl' : 'ltr'
}

/** What a language is called in itself. */
export function languageName(language: string): string {
  try {
    return new Intl.DisplayNames([language], { type: 'language' }).of(language) ?? language
  } catch {
    return language
  }
}
