<?php

declare(strict_types=1);

namespace Geschenk\App\Entity;

use Doctrine\ORM\Mapping as ORM;
use Symfony\Component\Security\Core\User\EquatableInterface;
use Symfony\Component\Security\Core\User\PasswordAuthenticatedUserInterface;
use Symfony\Component\Security\Core\User\UserInterface;

/** Somebody who works at the shop. */
#[ORM\Entity]
#[ORM\Table(name: 'shop_user')]
class User implements UserInterface, PasswordAuthenticatedUserInterface, EquatableInterface
{
    public const TECHNICIAN = 'technician';
    public const MANAGER = 'manager';
    /** A screen above the bench, which nobody sits at: sees what each tray waits for, and nothing else. */
    public const WALL = 'wall';
    public const ROLES = [self::TECHNICIAN, self::MANAGER, self::WALL];

    #[ORM\Id, ORM\GeneratedValue, ORM\Column]
    private ?int $id = null;

    #[ORM\Column]
    private string $password = '';

    /** BCP 47 */
    #[ORM\Column(length: 12)]
    private string $language = 'en';

    #[ORM\Column]
    private bool $disabled = false;

    public function __construct(
        #[ORM\Column(length: 60, unique: true)] private readonly string $username,
        #[ORM\Column(length: 120)] private readonly string $displayName,
        #[ORM\Column(length: 20)] private readonly string $role,
    ) {
    }

    public function id(): ?int
    {
        return $this->id;
    }

    public function setPassword(string $hash): void
    {
        $this->password = $hash;
    }

    public function getPassword(): string
    {
        return $this->password;
    }

    public function isDisabled(): bool
    {
        return $this->disabled;
    }

    public function disable(bool $isDisabled): void
    {
        $this->disabled = $isDisabled;
    }

    /** What is asked with each request: another password, another role, and leaving, end all sessions. */
    public function isEqualTo(UserInterface $user): bool
    {
        return $user instanceof self && !$user->disabled
            && [$this->username, $this->password, $this->role] === [$user->username, $user->password, $user->role];
    }

    public function language(): string
    {
        return $this->language;
    }

    public function speak(string $language): void
    {
        $this->language = $language;
    }

    public function displayName(): string
    {
        return $this->displayName;
    }

    public function role(): string
    {
        return $this->role;
    }

    public function getRoles(): array
    {
        return ['ROLE_'.strtoupper($this->role)];
    }

    public function eraseCredentials(): void
    {
    }

    /** @return non-empty-string */
    public function getUserIdentifier(): string
    {
        return '' === $this->username ? throw new \LogicException('A user without a name.') : $this->username;
    }
}
