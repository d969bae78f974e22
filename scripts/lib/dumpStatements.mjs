// Which statements a dump may hold. What a client would run of its own, or what reaches beyond its own tables, is found before
// anything of it is run.

const NAME = '`(\\w{1,64})`';
const SETTINGS =
  'TIME_ZONE|SQL_MODE|FOREIGN_KEY_CHECKS|UNIQUE_CHECKS|CHARACTER_SET_CLIENT|CHARACTER_SET_RESULTS|COLLATION_CONNECTION|SQL_NOTES';
/** What a dump says of its session, letter by letter: another sql_mode would change where a string ends. */
const SESSION = [
  new RegExp(`^/\\*!\\d{5,6} SET @OLD_(${SETTINGS}) ?= ?@@\\1 \\*/$`),
  /^\/\*!\d{5,6} SET @OLD_(UNIQUE_CHECKS|FOREIGN_KEY_CHECKS|SQL_NOTES) ?= ?@@\1, \1 ?= ?0 \*\/$/,
  /^\/\*!\d{5,6} SET @OLD_SQL_MODE ?= ?@@SQL_MODE, SQL_MODE ?= ?'NO_AUTO_VALUE_ON_ZERO' \*\/$/,
  new RegExp(`^/\\*!\\d{5,6} SET (${SETTINGS}) ?= ?@OLD_\\1 \\*/$`),
  /^\/\*!\d{5,6} SET NAMES utf8mb4 \*\/$/,
  /^\/\*!\d{5,6} SET TIME_ZONE ?= ?'\+00:00' \*\/$/,
  /^\/\*!\d{5,6} SET @saved_cs_client {0,8}= @@character_set_client \*\/$/,
  /^\/\*!\d{5,6} SET character_set_client = (?:utf8|utf8mb3|utf8mb4|@saved_cs_client) \*\/$/,
  /^SET @saved_cs_client {0,8}= @@character_set_client$/,
  /^SET character_set_client = (?:utf8|utf8mb3|utf8mb4|@saved_cs_client)$/,
  /^SET @OLD_AUTOCOMMIT=@@AUTOCOMMIT, @@AUTOCOMMIT=0$/,
  /^COMMIT$/,
  /^SET AUTOCOMMIT=@OLD_AUTOCOMMIT$/,
  new RegExp(`^/\\*!40000 ALTER TABLE ${NAME} (?:DISABLE|ENABLE) KEYS \\*/$`),
];
const SHAPES = [
  new RegExp(`^DROP TABLE IF EXISTS ${NAME}$`),
  new RegExp(`^LOCK TABLES ${NAME} WRITE$`),
  /^UNLOCK TABLES$/,
  // strings stand as 0 here: between them numbers and signs, no word that could be run
  new RegExp(`^INSERT INTO ${NAME} VALUES[\\s(),.+\\-0-9eE]*$`),
  new RegExp(`^CREATE TABLE ${NAME} \\(`),
];
const BEGINS = /^(?:DROP TABLE IF EXISTS|LOCK TABLES|UNLOCK TABLES|INSERT INTO|CREATE TABLE) ?/;
const BEYOND = /`\s{0,9}\.|\b(?:SELECT|DIRECTORY|CONNECTION|UNION|LIKE)\b|ENGINE\s{0,9}=\s{0,9}(?!InnoDB\b)/i;

/** A string as dumps write it: line breaks and quotes in it are escaped, so that it ends on its own line. */
const STRING = /'(?:[^'\\]|\\.)*'/g;
/** Longest a statement may be [characters]. */
const MOST = 64_000_000;
const COMMENT = /^(?:--(?: .*)?|\/\*M!999999\\- enable the sandbox mode \*\/ ?)?$/;

/** Goes through a dump line by line as it comes, and refuses what is no statement of one. */
export class StatementCheck {
  #rest = '';
  #statement = '';
  #line = 0;
  /** @throws naming the line where something stands that no dump of ours holds */
  read(chunk) {
    const lines = (this.#rest + chunk.toString('latin1')).split('\n');
    this.#rest = lines.pop();
    if (this.#rest.length > MOST) this.#refuse();
    for (const line of lines) this.#take(line);
  }
  /** @throws where the last statement is not ended */
  end() {
    this.#take(this.#rest);
    if (this.#statement) this.#refuse();
  }
  #take(line) {
    this.#line++;
    if (!this.#statement) {
      if (COMMENT.test(line)) return;
      if (line.endsWith(';') && SESSION.some((s) => s.test(line.slice(0, -1)))) return;
      if (!BEGINS.test(line)) this.#refuse();
    }
    const plain = line.replace(STRING, '0').replace(/\b(?:NULL|_binary|0x[0-9A-F]+)(?![\w`])/g, '0');
    // a string that is not ended, a command of the client, a comment, a second statement on the line
    if (/['"\\#]|--|\/\*|;./.test(plain)) this.#refuse();
    this.#statement += `${plain}\n`;
    if (this.#statement.length > MOST) this.#refuse();
    if (!plain.endsWith(';')) return;
    const t = this.#statement.trim().slice(0, -1);
    this.#statement = '';
    if (!SHAPES.some((s) => s.test(t)) || (t.startsWith('CREATE') && BEYOND.test(t))) this.#refuse();
  }
  #refuse() {
    throw new Error(`line ${this.#line} is none that a dump of this application holds`);
  }
}
