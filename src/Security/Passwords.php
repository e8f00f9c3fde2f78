<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Geschenk\App\Entity\User;
use Geschenk\App\Refusal;
use Symfony\Component\PasswordHasher\Hasher\PasswordHasherFactoryInterface;
use Symfony\Component\Validator\Constraints\Length;
use Symfony\Component\Validator\Constraints\PasswordStrength;
use Symfony\Component\Validator\Validator\ValidatorInterface;

/**
 * What a password has to be: long, not one that everybody tries first, and not made of the user's own name. No signs of
 * particular kinds are asked for (NIST SP 800-63B, 5.1.1.2).
 */
final readonly class Passwords
{
    public const SHORTEST = 12;
    private const LONGEST = 200;
    /** Beginnings, letters alone and small, of what is tried first among long ones. */
    private const COMMON = [
        'password', 'passwort', 'letmein', 'welcome', 'willkommen', 'iloveyou', 'qwerty', 'qwertz', 'asdfgh', 'zxcvbn',
        'yxcvbn', 'admin', 'changeme', 'geschenk', 'football', 'baseball', 'princess', 'sunshine', 'dragon', 'monkey',
        'master', 'superman', 'hallo', 'schatz', 'abcdef', 'test', 'secret', 'geheim', 'summer', 'sommer', 'winter',
    ];

    public function __construct(
        private PasswordHasherFactoryInterface $hashers,
        private ValidatorInterface $validator,
    ) {
    }

    /** @throws Refusal when it is none that holds */
    public function give(User $user, #[\SensitiveParameter] string $password): void
    {
        $length = new Length(min: self::SHORTEST, max: self::LONGEST);
        if (0 !== count($this->validator->validate($password, [$length]))) {
            throw Refusal::because('password_length', ['least' => self::SHORTEST, 'most' => self::LONGEST]);
        }
        $strength = new PasswordStrength(minScore: PasswordStrength::STRENGTH_WEAK);
        if ($this->isCommon($password, $user) || 0 !== count($this->validator->validate($password, [$strength]))) {
            throw Refusal::because('password_common');
        }
        $user->setPassword($this->hashers->getPasswordHasher(User::class)->hash($password));
    }

    public function isOf(User $user, #[\SensitiveParameter] string $password): bool
    {
        return $this->hashers->getPasswordHasher($user)->verify($user->getPassword(), $password);
    }

    private function isCommon(#[\SensitiveParameter] string $password, User $user): bool
    {
        $letters = (string) preg_replace('/[^\pL]+/u', '', mb_strtolower($password));
        // What is left beside a common beginning has to be a password of its own.
        foreach ([...self::COMMON, mb_strtolower($user->getUserIdentifier())] as $word) {
            if (str_starts_with($letters, $word) && mb_strlen($letters) - mb_strlen($word) < 8) {
                return true;
            }
        }

        // One sign over and over, or a run of digits, has hardly a letter.
        return count(array_unique(mb_str_split($password))) < 6;
    }
}
