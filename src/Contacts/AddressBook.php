<?php

declare(strict_types=1);

namespace Geschenk\App\Contacts;

use Geschenk\Core\Chat\Person;
use libphonenumber\NumberParseException;
use libphonenumber\PhoneNumberFormat;
use libphonenumber\PhoneNumberUtil;
use Sabre\VObject\Component\VCard;
use Sabre\VObject\Property;
use Sabre\VObject\Reader;
use Symfony\Component\Uid\Uuid;

/**
 * A phone's address book as vCards (RFC 6350, and 2426 as phones have it still): names are added for numbers that have
 * none there. What is there stays as it is to the last byte, also what can't be read.
 */
final class AddressBook
{
    /** Bytes of one card, which may hold a picture. */
    private const CARD = 4_000_000;
    /** Numbers of one card that are looked at, and letters of a line with one. */
    private const NUMBERS = 200;
    private const LINE = 1_000;
    /** Unicode characters of a name. */
    private const NAME = 200;

    /** @var array<string, true> numbers that are there, in E.164 where they can be read */
    private array $numbers = [];
    /** @var array<string, true> own numbers of those who were added */
    private array $own = [];
    private int $unreadable = 0;
    private int $brought = 0;
    private int $there = 0;
    private int $nameless = 0;
    private string $added = '';

    /** @param string $ownNumber of the account, E.164: numbers without a country are of its country */
    public function __construct(private readonly string $text, string $ownNumber)
    {
        $this->region = self::quietly(static function () use ($ownNumber): ?string {
            try {
                $util = PhoneNumberUtil::getInstance();

                // By the country alone: a number need not be one that is given out.
                return $util->getRegionCodeForCountryCode($util->parse($ownNumber)->getCountryCode() ?? 0);
            } catch (NumberParseException) {
                return null;
            }
        });
        foreach (self::cards($text) as $card) {
            $numbers = self::quietly(fn (): ?array => $this->numbersOf($card));
            $this->unreadable += null === $numbers ? 1 : 0;
            foreach ($numbers ?? [] as $number) {
                $this->numbers[$number] = true;
            }
        }
    }

    private readonly ?string $region;

    /**
     * Adds a person whose number has no card there; twice makes no double. The number that the messenger knows them by
     * is theirs alone: a further one, of a household or an office, several people have.
     */
    public function add(Person $person): void
    {
        if (null === $person->number || '' === $person->number) {
            return;
        }
        $name = self::name($person);
        if ('' === $name) {
            ++$this->nameless;

            return;
        }
        $own = $this->canonical($person->number);
        if (isset($this->numbers[$own]) || isset($this->own[$own])) {
            ++$this->there;

            return;
        }
        $further = array_map($this->canonical(...), $person->otherNumbers);
        $numbers = array_values(array_unique([
            $own, ...array_filter($further, static fn (string $n): bool => '' !== $n),
        ]));
        $this->own[$own] = true;
        ++$this->brought;
        $this->added .= self::quietly(static fn (): string => self::card($name, $numbers));
    }

    /** All of it, with what was added behind what is there. */
    public function text(): string
    {
        return KeptBook::joined($this->text, $this->added);
    }

    /** The cards of those who were added. */
    public function added(): string
    {
        return $this->added;
    }

    /**
     * @return array{brought: int, there: int, nameless: int, unreadable: int} people whose name was added; whose number
     *                                                       has a card there; who have none; cards that can't be read
     */
    public function counts(): array
    {
        return [
            'brought' => $this->brought, 'there' => $this->there, 'nameless' => $this->nameless,
            'unreadable' => $this->unreadable,
        ];
    }

    private static function name(Person $person): string
    {
        $name = (string) preg_replace('/[\p{C}\s]+/u', ' ', mb_scrub($person->bookName ?? $person->ownName ?? ''));

        return trim(mb_substr($name, 0, self::NAME));
    }

    /** @param non-empty-list<string> $numbers their own first */
    private static function card(string $name, array $numbers): string
    {
        // Phones of either platform read 3.0; the id is the same whenever the same number is brought.
        $card = new VCard(['VERSION' => '3.0', 'FN' => $name, 'N' => [$name, '', '', '', '']]);
        $card->remove('PRODID');
        $card->remove('UID');
        $id = Uuid::v5(Uuid::fromString(Uuid::NAMESPACE_URL), 'tel:'.$numbers[0])->toRfc4122();
        $card->add('UID', 'urn:uuid:'.$id);
        foreach ($numbers as $place => $number) {
            // Of what kind a further one is, nobody has said.
            $card->add('TEL', $number, 0 === $place ? ['TYPE' => 'CELL'] : []);
        }

        return $card->serialize();
    }

    /** @return list<string>|null null where it can't be read */
    private function numbersOf(string $card): ?array
    {
        if (strlen($card) > self::CARD || 0 !== strcasecmp(substr(rtrim($card), -9), 'END:VCARD')) {
            return null;
        }
        try {
            $read = Reader::read(
                self::withNumbersAlone($card), Reader::OPTION_FORGIVING | Reader::OPTION_IGNORE_INVALID_LINES,
            );
            if (!$read instanceof VCard) {
                return null;
            }
            $numbers = [];
            foreach ($read->select('TEL') as $tel) {
                $value = $tel instanceof Property ? $tel->getValue() : null;
                $numbers[] = $this->canonical(is_string($value) ? $value : '');
            }

            return array_values(array_filter($numbers, static fn (string $n): bool => '' !== $n));
        } catch (\Exception|\Error) {
            // Of a card that means harm the library may ask PHP what PHP refuses: it costs that card.
            return null;
        }
    }

    /** A card with nothing but its numbers: what else it holds may be any amount, and is nobody's business. */
    private static function withNumbersAlone(string $card): string
    {
        // A line goes on where the next begins with a space.
        $card = (string) preg_replace('/\r?\n[ \t]/', '', $card);
        $lines = [];
        $at = 0;
        $line = sprintf('/^(?:[\w-]{1,50}\.)?TEL[;:].{0,%d}$/im', self::LINE);
        while (count($lines) < self::NUMBERS && 1 === preg_match($line, $card, $found, \PREG_OFFSET_CAPTURE, $at)) {
            $lines[] = rtrim($found[0][0]);
            $at = $found[0][1] + strlen($found[0][0]);
        }

        return implode("\r\n", ['BEGIN:VCARD', 'VERSION:3.0', ...$lines, 'END:VCARD', '']);
    }

    /** E.164 where it can be told, else its digits. */
    private function canonical(string $number): string
    {
        $number = (string) preg_replace('/^tel:/i', '', trim(mb_scrub(substr($number, 0, 100))));
        try {
            $util = PhoneNumberUtil::getInstance();

            return $util->format($util->parse($number, $this->region), PhoneNumberFormat::E164);
        } catch (NumberParseException) {
            return (string) preg_replace('/\D/', '', $number);
        }
    }

    /**
     * One card costs itself when it can't be read, so they are told apart before any is.
     *
     * @return iterable<string>
     */
    private static function cards(string $text): iterable
    {
        $from = null;
        $at = 0;
        while (1 === preg_match('/^(BEGIN|END):VCARD[ \t]*\r?$/im', $text, $found, \PREG_OFFSET_CAPTURE, $at)) {
            [$line, $place] = $found[0];
            $at = $place + strlen($line);
            if ('BEGIN' === strtoupper($found[1][0])) {
                if (null !== $from) {
                    yield substr($text, $from, $place - $from);
                }
                $from = $place;
            } elseif (null !== $from) {
                yield substr($text, $from, $at - $from);
                $from = null;
            }
        }
        if (null !== $from) {
            yield substr($text, $from);
        }
    }

    /**
     * The library is of before PHP 8 and says so with each class.
     *
     * @template T
     *
     * @param callable(): T $act
     *
     * @return T
     */
    private static function quietly(callable $act): mixed
    {
        set_error_handler(static fn (): bool => true, \E_DEPRECATED | \E_USER_DEPRECATED);
        try {
            return $act();
        } finally {
            restore_error_handler();
        }
    }
}
