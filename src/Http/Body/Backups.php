<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Geschenk\App\Refusal;
use Symfony\Component\Validator\Constraints as Assert;

/** Accounts of a tray that are backed up together. */
final readonly class Backups
{
    private const LONGEST = 300;

    public function __construct(
        /** @var list<array<string, mixed>> */
        #[Assert\Count(min: 1, max: 20)]
        #[Assert\All([new Assert\Type('array')])]
        #[\SensitiveParameter]
        public array $accounts = [],
    ) {
    }

    /**
     * @return list<array{place: int, offer: string|null, key: string|null, after: string|null}>
     *
     * @throws Refusal when one is not written as it has to be
     */
    public function told(): array
    {
        return array_values(array_map(static function (array $one): array {
            $text = static function (string $name) use ($one): ?string {
                $value = $one[$name] ?? null;
                if (null !== $value && (!is_string($value) || mb_strlen($value) > self::LONGEST)) {
                    throw Refusal::because('no_such_work');
                }

                // As it was typed: a password may end with a space.
                return null === $value || '' === trim($value) ? null : $value;
            };
            $place = $one['place'] ?? null;

            return [
                'place' => is_int($place) ? $place : throw Refusal::because('no_such_move'),
                'offer' => $text('offer'), 'key' => $text('key'), 'after' => $text('after'),
            ];
        }, $this->accounts));
    }
}
