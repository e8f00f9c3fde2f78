<?php

declare(strict_types=1);

namespace Geschenk\App\Security;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\User;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Records;
use Geschenk\App\Refusal;

/** Who works at the shop: added, given another password, shown out and let in again. Each act is in the log. */
final readonly class Staff
{
    /** Who else stands in the log: no user has such a name. */
    private const OTHERS = ['bench', 'console'];

    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private Passwords $passwords,
        private SignIns $signIns,
        private ShopLog $log,
    ) {
    }

    /** @return list<User> by name */
    public function all(): array
    {
        return $this->entities->getRepository(User::class)->findBy([], ['username' => 'ASC']);
    }

    /**
     * @param string $shown what others read; the name, if blank
     * @param string $role  one of User::ROLES
     *
     * @throws Refusal
     */
    public function add(
        string $name,
        string $shown,
        string $role,
        #[\SensitiveParameter] string $password,
        string $by,
    ): void {
        self::ensureName($name);
        $shown = mb_substr(mb_scrub(trim($shown)), 0, 120);
        $user = new User($name, '' === $shown ? $name : $shown, $role);
        $this->passwords->give($user, $password);
        $this->records->change(function () use ($user, $name, $by): void {
            if (null !== $this->find($name)) {
                throw Refusal::because('user_there', ['name' => $name]);
            }
            $this->entities->persist($user);
            $this->log->note($by, 'user_added', null, ['name' => $name]);
        });
    }

    /** @throws Refusal */
    public function changePassword(string $name, #[\SensitiveParameter] string $password, string $by): void
    {
        $this->records->change(function () use ($name, $password, $by): void {
            $this->passwords->give($this->get($name), $password);
            $this->signIns->endAllOf($name);
            $this->log->note($by, 'user_password', null, ['name' => $name]);
        });
    }

    /** @throws Refusal */
    public function disable(string $name, bool $isDisabled, string $by): void
    {
        if ($name === $by) {
            throw Refusal::because('user_self');
        }
        $this->records->change(function () use ($name, $isDisabled, $by): void {
            $user = $this->get($name);
            if ($user->isDisabled() === $isDisabled) {
                return;
            }
            $user->disable($isDisabled);
            $this->signIns->endAllOf($name);
            $this->log->note($by, $isDisabled ? 'user_disabled' : 'user_enabled', null, ['name' => $name]);
        });
    }

    /** @throws Refusal */
    public function endSession(string $name, int $number, string $by): void
    {
        $this->records->change(function () use ($name, $number, $by): void {
            $ended = $this->signIns->end($name, $number) ?? throw Refusal::because('session_ended_already');
            $this->log->note($by, 'session_ended', null, ['name' => $name, 'address' => $ended->address]);
        });
    }

    /** @throws Refusal */
    private static function ensureName(string $name): void
    {
        if (1 !== preg_match('/^[a-z][a-z0-9._-]{0,59}$/D', $name)) {
            throw Refusal::because('user_name');
        }
        if (in_array($name, self::OTHERS, true)) {
            throw Refusal::because('user_there', ['name' => $name]);
        }
    }

    private function find(string $name): ?User
    {
        return $this->entities->getRepository(User::class)->findOneBy(['username' => $name]);
    }

    /** @throws Refusal */
    private function get(string $name): User
    {
        return $this->find($name) ?? throw Refusal::because('user_unknown', ['name' => $name]);
    }
}
