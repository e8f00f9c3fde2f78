<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Form;

use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\Form;
use Geschenk\App\ReadingCopy\Told;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Progress;
use Sabre\VObject\Component\VCard;
use Symfony\Component\DependencyInjection\Attribute\AsTaggedItem;

/** The people in it as cards that phones and address books take: vCard 3.0 (RFC 2426), which all of them read. */
#[AsTaggedItem(priority: 20)]
final class CardsForm implements Form
{
    public const FILE = 'people.vcf';

    public static function name(): string
    {
        return 'cards';
    }

    public static function usesFiles(): bool
    {
        return false;
    }

    public static function bytes(int $messages, int $files): int
    {
        return 0;
    }

    public function write(CopyContext $of, Progress $progress): void
    {
        $stream = $of->folder->begin(self::FILE);
        // What the library will have to change for a later PHP is nobody's affair here.
        set_error_handler(static fn (): bool => true, \E_DEPRECATED);
        try {
            foreach ($of->extract->people() as $person) {
                $of->folder->write($stream, $this->card($person)?->serialize() ?? '', self::FILE);
            }
        } finally {
            restore_error_handler();
        }
        $of->folder->finish($stream, self::FILE);
    }

    /** @return VCard|null null of somebody without a number: there is nothing to call them by */
    private function card(Person $person): ?VCard
    {
        if (null === $person->number) {
            return null;
        }
        $name = self::line($person->bookName ?? $person->ownName ?? $person->number);
        $card = new VCard([
            'VERSION' => '3.0', 'FN' => $name, 'N' => ['', $name, '', '', ''],
            // The same person is the same card, however often it is taken.
            'UID' => 'urn:sha256:'.hash('sha256', $person->key),
        ]);
        foreach ([$person->number, ...$person->otherNumbers] as $number) {
            $card->add('TEL', self::line($number), ['type' => 'CELL']);
        }
        if (null !== $person->ownName && null !== $person->bookName) {
            $card->add('NICKNAME', self::line($person->ownName));
        }

        return $card;
    }

    private static function line(string $text): string
    {
        return (string) preg_replace('/[\x00-\x1F\x7F]+/', ' ', Told::short($text));
    }
}
