<?php

declare(strict_types=1);

namespace Geschenk\App\Tray\Intake;

use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\TrayPhone;
use Geschenk\App\LetterCode;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * What is printed and stuck on a phone: its tag, and a few letters that stand nowhere else than on the label. Who types
 * them, or has them read by a hand scanner, has the phone before them.
 */
final readonly class Labels
{
    private const LETTERS = 4;

    private string $key;

    public function __construct(
        #[Autowire('%kernel.secret%')] #[\SensitiveParameter]
        string $secret,
    ) {
        $this->key = hash_hkdf('sha256', $secret, 32, 'labels on phones');
    }

    /** @return list<array{tag: string, code: string}> */
    public function of(Tray $tray): array
    {
        return array_map(
            fn (TrayPhone $phone): array => ['tag' => $phone->tag, 'code' => $this->code($phone)], $tray->phones(),
        );
    }

    /** @return string the tag, where what was typed is that or what the phone's label says; else what was typed */
    public function read(TrayPhone $phone, string $typed): string
    {
        // However it is grouped: as the page reads it (web/lib/labels.ts).
        $said = array_map(LetterCode::read(...), [$phone->tag, $phone->tag.$this->code($phone)]);

        return in_array(LetterCode::read($typed), $said, true) ? $phone->tag : $typed;
    }

    private function code(TrayPhone $phone): string
    {
        $told = json_encode([$phone->tray->number, $phone->tag, $phone->serial], \JSON_THROW_ON_ERROR);

        return LetterCode::of(hash_hmac('sha256', $told, $this->key, true), self::LETTERS);
    }
}
