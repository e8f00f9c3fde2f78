<?php

declare(strict_types=1);

namespace Geschenk\App\Contacts;

use Geschenk\Core\Archive\TagFiles;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\UnusableInput;

/**
 * What an address book held before it was written to, and the cards that were added to it. Kept within a safety copy
 * beside its payload, so that erasing reaches it: a bag may hold further tag files (RFC 8493, 2.2.4). Both lie under
 * their hashes, and the list that names them comes last: whoever is interrupted has kept what was kept before.
 */
final readonly class KeptBook
{
    /** Of the tag files that it is kept in. */
    public const FOLDER = 'address-book';
    private const LIST = 'manifest-sha256.txt';
    /** A line of it: the book of before first, then what was added. */
    private const LINE = '([0-9a-f]{64})  \1\.vcf\n';

    /** @param string $added cards, each as it was written, to its last line's end */
    private function __construct(public string $before, public string $added)
    {
    }

    /**
     * To be called before the phone is written to. What one that was kept here before holds stays; cards come behind
     * its own.
     *
     * @param TagFiles $copy  of the safety copy
     * @param string   $added nothing where the book is replaced as a whole
     *
     * @throws DiskFull
     * @throws DiskFailure
     * @throws UnusableInput when what was kept before is not as it was written
     */
    public static function keep(TagFiles $copy, string $before, string $added): self
    {
        $kept = self::of($copy);
        if (null !== $kept && $kept->before !== $before) {
            // Somebody was interrupted here, and the book has been written to since.
            $new = array_diff_key(self::byText($added), self::byText($kept->added));
            [$before, $added] = [$kept->before, $kept->added.implode('', array_keys($new))];
        }

        return self::write($copy, $before, $added);
    }

    /**
     * Cards of another account's that stay when that one is put back, because this one shows them, too: from now on
     * they are as if they had been added with this one.
     *
     * @param TagFiles $copy   of the safety copy
     * @param string   $before the book without them, should nothing be kept here yet
     *
     * @throws DiskFull
     * @throws DiskFailure
     * @throws UnusableInput when what was kept before is not as it was written
     */
    public static function takeOver(TagFiles $copy, string $before, string $cards): self
    {
        $kept = self::of($copy) ?? new self($before, '');
        $new = array_diff_key(self::byText($cards), self::byText($kept->added));

        return self::write($copy, $kept->before, $kept->added.implode('', array_keys($new)));
    }

    private static function write(TagFiles $copy, string $before, string $added): self
    {
        $list = '';
        $names = [];
        foreach ([$before, $added] as $text) {
            $names[] = $name = hash('sha256', $text).'.vcf';
            $copy->put($name, $text);
            $list .= basename($name, '.vcf')."  $name\n";
        }
        $copy->put(self::LIST, $list);
        $copy->keepOnly([...$names, self::LIST]);

        return new self($before, $added);
    }

    /**
     * @return self|null null where none was kept
     *
     * @throws UnusableInput when it is not as it was written
     */
    public static function of(TagFiles $copy): ?self
    {
        $list = $copy->get(self::LIST);
        if (null === $list) {
            return null;
        }
        $lines = sprintf('/\A%s%s\z/', self::LINE, strtr(self::LINE, ['\1' => '\2']));
        if (1 !== preg_match($lines, $list, $named)) {
            throw UnusableInput::backupBroken('@backup', 'bad_line', self::FOLDER.'/'.self::LIST, 1);
        }

        return new self(self::kept($copy, $named[1]), self::kept($copy, $named[2]));
    }

    /** @throws UnusableInput when it is not as it was written */
    private static function kept(TagFiles $copy, string $sha256): string
    {
        $text = $copy->get("$sha256.vcf");
        if (null === $text || hash('sha256', $text) !== $sha256) {
            throw UnusableInput::backupBroken(
                '@backup', null === $text ? 'missing' : 'changed', self::FOLDER."/$sha256.vcf",
            );
        }

        return $text;
    }

    /** With what was added behind what was there. */
    public static function joined(string $before, string $added): string
    {
        return $before.('' === $before || '' === $added || str_ends_with($before, "\n") ? '' : "\r\n").$added;
    }

    /**
     * The book as it is without the cards that were added: what it held before, to the last byte, where nobody wrote to
     * it since; else each card that still is as it was added is taken out, and nothing else is touched.
     *
     * @param string $needed cards of the numbers that somebody else shows: those of them that were added here stay
     *
     * @return array{text: string, taken: int, stay: int, needed: string} of the cards that were added: how many are not
     *                       there any more; how many stay, because somebody has written in them since; and which do,
     *                       because they are needed
     */
    public function without(string $text, string $needed = ''): array
    {
        $needs = self::ids($needed);
        $added = self::byText($this->added);
        $isFree = static fn (string $card): bool => !isset($needs[self::id($card)]);
        $out = array_filter($added, $isFree, \ARRAY_FILTER_USE_KEY);
        if ($out === $added && in_array($text, [$this->before, self::joined($this->before, $this->added)], true)) {
            return ['text' => $this->before, 'taken' => count($added), 'stay' => 0, 'needed' => ''];
        }
        $rest = '';
        $stay = 0;
        $left = '';
        $ids = self::ids($this->added);
        foreach (self::pieces($text) as $piece) {
            $card = self::cardOf($piece);
            if (null !== $card && isset($out[$card])) {
                $rest .= substr($piece, strlen($card));
                continue;
            }
            $isNeeded = null !== $card && isset($added[$card]);
            $left .= $isNeeded ? $card : '';
            $stay += !$isNeeded && null !== $card && isset($ids[self::id($card)]) ? 1 : 0;
            $rest .= $piece;
        }
        $taken = count($added) - $stay - count(self::byText($left));

        return ['text' => $rest, 'taken' => $taken, 'stay' => $stay, 'needed' => $left];
    }

    /** @return array<string, true> */
    private static function byText(string $cards): array
    {
        $found = [];
        foreach (self::pieces($cards) as $piece) {
            $card = self::cardOf($piece);
            if (null !== $card) {
                $found[$card] = true;
            }
        }

        return $found;
    }

    /**
     * Each begins with the first line of a card, but the first one, which may be what stands before all cards.
     *
     * @return iterable<string> together the whole text
     */
    private static function pieces(string $text): iterable
    {
        $from = 0;
        while (false !== ($next = strpos($text, "\nBEGIN:VCARD", $from))) {
            yield substr($text, $from, $next + 1 - $from);
            $from = $next + 1;
        }
        yield substr($text, $from);
    }

    /** @return string|null the card that a piece begins with, to its last line's end; null where it is none of ours */
    private static function cardOf(string $piece): ?string
    {
        $end = strpos($piece, "\r\nEND:VCARD\r\n");

        return false === $end || !str_starts_with($piece, 'BEGIN:VCARD')
            ? null
            : substr($piece, 0, $end + strlen("\r\nEND:VCARD\r\n"));
    }

    /** Those of some cards whose numbers others have. */
    public static function among(string $cards, string $others): string
    {
        $ids = self::ids($others);

        return implode('', array_filter(
            array_keys(self::byText($cards)), static fn (string $card): bool => isset($ids[self::id($card)]),
        ));
    }

    /** @return array<string, true> */
    private static function ids(string $cards): array
    {
        return array_fill_keys(array_map(self::id(...), array_keys(self::byText($cards))), true);
    }

    private static function id(string $card): string
    {
        return 1 === preg_match('/^UID:(\S{1,100})/m', $card, $found) ? $found[1] : hash('sha256', $card);
    }
}
