<?php

declare(strict_types=1);

namespace Geschenk\App;

use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * Short codes on paper, by which this installation knows again what it has told: made of just that, and of its secret
 * (HKDF and HMAC with SHA-256).
 */
final readonly class CheckCodes
{
    /** Letters, in groups; five bits each. */
    private const LENGTH = 12;
    private const GROUP = 4;

    /** @var non-empty-list<string> the one that is used first */
    private array $secrets;

    /** @param string $before the secret that this installation had before */
    public function __construct(
        #[Autowire('%kernel.secret%')] #[\SensitiveParameter]
        string $secret,
        #[Autowire('%env(APP_SECRET_BEFORE)%')] #[\SensitiveParameter]
        string $before = '',
    ) {
        $this->secrets = '' === $before ? [$secret] : [$secret, $before];
    }

    /** @param string $purpose which codes: those of one are none of another */
    public function of(string $purpose, string $told): string
    {
        return self::by($this->secrets[0], $purpose, $told);
    }

    /** @param string $typed as somebody reads it from the paper */
    public function isOf(string $purpose, string $told, string $typed): bool
    {
        $read = LetterCode::read($typed);
        foreach ($this->secrets as $secret) {
            if (hash_equals(str_replace('-', '', self::by($secret, $purpose, $told)), $read)) {
                return true;
            }
        }

        return false;
    }

    private static function by(#[\SensitiveParameter] string $secret, string $purpose, string $told): string
    {
        $key = hash_hkdf('sha256', $secret, 32, $purpose);
        $code = LetterCode::of(hash_hmac('sha256', $told, $key, true), self::LENGTH);

        return implode('-', str_split($code, self::GROUP));
    }
}
